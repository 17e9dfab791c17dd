/** The minute of the day at an instant (ms since 1970), by this machine's time zone. */
export function localMinute(at: number): number {
  const date = new Date(at)
  return date.getHours() * 60 + date.getMinutes()
}
