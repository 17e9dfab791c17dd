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
