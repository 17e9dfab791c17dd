import { isWithinNight } from './nightWindow'

const at = (time: string) => Number(time.slice(0, 2)) * 60 + Number(time.slice(3))

test.each([
  ['21:00', '06:00', '20:59', false],
  ['21:00', '06:00', '21:00', true],
  ['21:00', '06:00', '23:59', true],
  ['21:00', '06:00', '00:00', true],
  ['21:00', '06:00', '05:59', true],
  ['21:00', '06:00', '06:00', false],
  ['12:00', '13:30', '12:45', true],
  ['12:00', '13:30', '13:30', false],
  ['00:00', '00:00', '17:00', true],
])('a night from %s to %s: %s is in it: %s', (from, to, time, inside) => {
  expect(isWithinNight(at(time), { from, to })).toBe(inside)
})
