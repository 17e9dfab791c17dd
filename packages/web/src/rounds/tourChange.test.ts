import { tourChange } from './tourChange'

const at = (time: string) => Date.parse(`2026-11-27T${time}Z`)
const visit = (id: number, time: string, state = 'planned', reason: string | null = null) =>
  ({ id, state, at: at(time), reason, display: { name: `Sedge ${id}` } }) as never
const tour = (...visits: never[]) => ({ zone: 'UTC', visits })

test('what changed of a tour is told in a sentence, and nothing where nothing did', () => {
  const before = tour(visit(1, '09:00'), visit(2, '10:00'))
  expect(tourChange(before, before)).toBeNull()
  expect(tourChange(before, tour(visit(1, '09:00'), visit(2, '11:30')))).toBe('moved: Sedge 2 at 11:30')
  expect(tourChange(before, tour(visit(1, '09:00')))).toBe('not any more: Sedge 2')
  expect(tourChange(before, tour(visit(1, '09:00'), visit(2, '10:00'), visit(3, '12:00')))).toBe(
    'new: Sedge 3 at 12:00',
  )
  // What one starts oneself is no news; its end is.
  const begun = tour(visit(1, '09:00', 'begun'), visit(2, '10:00'))
  expect(tourChange(before, begun)).toBeNull()
  expect(tourChange(begun, tour(visit(1, '09:00', 'done'), visit(2, '10:00')))).toBe('Sedge 1 is done')
  expect(tourChange(begun, tour(visit(1, '09:00', 'planned', 'No instrument is there.'), visit(2, '10:00')))).toBe(
    'Sedge 1 asks for somebody: No instrument is there.',
  )
  const many = tour(...[3, 4, 5, 6].map((id) => visit(id, '12:00')))
  expect(tourChange(tour(), many)).toBe('new: Sedge 3 at 12:00, and 3 more')
})
