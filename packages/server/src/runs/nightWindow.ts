const minutesOf = (time: string) => {
  const [hours, minutes] = time.split(':').map(Number)
  return 60 * hours + minutes
}

/** Whether a local time of day (minutes since midnight) lies in a window, which may go over midnight; the end is outside. */
export function isWithinNight(minuteOfDay: number, { from, to }: { from: string; to: string }): boolean {
  const [start, end] = [minutesOf(from), minutesOf(to)]
  if (start === end) return true
  return start < end ? minuteOfDay >= start && minuteOfDay < end : minuteOfDay >= start || minuteOfDay < end
}

/** The minute of the day at an instant (ms since 1970), by this machine's time zone. */
export function localMinute(at: number): number {
  const date = new Date(at)
  return date.getHours() * 60 + date.getMinutes()
}
