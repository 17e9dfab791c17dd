/** @jest-environment ./tests/browserEnvironment.cjs */
import { screen, waitFor } from '@testing-library/react'
import type { Aim } from '@bichroma/core/aims'
import type { StoredAim } from '@bichroma/contract'
import { showInApp as show } from '../parts/showInApp'
import { hands } from '../test/formHands'
import { refusal, StubbedApi } from '../test/stubbedApi'
import { AimEditor } from './AimEditor'

const api = new StubbedApi()
const rooms = [
  { id: 1, name: 'Plate Room', newestLight: { illuminanceLux: 500, xyz: [1, 1, 1], at: 0 } },
  { id: 2, name: 'Dome', newestLight: null },
]
beforeEach(() => api.begin({ 'POST /api/aims': { body: { id: 7 } }, 'GET /api/rooms': { body: rooms } }))
afterEach(() => api.end())

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const stored: StoredAim = { id: 4, name: 'Atlas web', aim, updatedAt: 0 }
const edit = () => show(<AimEditor stored={stored} initial={aim} mayEdit />)
/** What was sent, once it was. */
const sentAim = async () => {
  await waitFor(() => expect(api.sent).toHaveLength(1))
  return (api.sent[0].body as { aim: Aim }).aim
}

test('an aim that nobody touched is sent as it was @long', async () => {
  edit()
  await hands.press('Save aim')
  expect(await sentAim()).toEqual(aim)
  expect(api.sent[0]).toMatchObject({ method: 'PUT', path: '/api/aims/4' })
})

test('a white of another kind begins whole, and nothing of the one before is left @long', async () => {
  edit()
  await hands.choose('White', 'xy by hand')
  await hands.write('White x', '0.3457')
  await hands.write('White y', '0.3585')
  await hands.press('Save aim')
  expect((await sentAim()).white).toEqual({ kind: 'xy', x: 0.3457, y: 0.3585 })
})

test('a white that no light has is told at its field, and nothing is sent @long', async () => {
  edit()
  await hands.choose('White', 'xy by hand')
  await hands.write('White x', '0.9')
  await hands.press('Save aim')
  expect(await screen.findByText(/lies outside the spectral locus/)).toBeTruthy()
  expect(api.sent).toEqual([])
})

test('a white that was found by eye keeps the white that it was moved from, and moves on by hand within what is one @long @long', async () => {
  const white: Aim['white'] = { kind: 'by eye', of: { kind: 'temperature', kelvin: 6200 }, u: 0.0012, v: -0.0004 }
  const { unmount } = show(<AimEditor stored={stored} initial={{ ...aim, white }} mayEdit />)
  expect(screen.getByText(/6,200 K by eye, u′v′ \+0\.0012 −0\.0004/)).toBeTruthy()
  await hands.write('Moved in u′', '0.0015')
  await hands.press('Save aim')
  expect((await sentAim()).white).toEqual({ ...white, u: 0.0015 })
  unmount()
  show(<AimEditor stored={stored} initial={{ ...aim, white }} mayEdit />)
  await hands.write('Moved in v′', '0.4')
  await hands.press('Save aim')
  expect(await screen.findByText(/“Moved in v′” must be 0.05 or less/)).toBeTruthy()
  expect(api.sent).toHaveLength(1)
})

test('a luminance is taken from the light of a room that was read @long', async () => {
  edit()
  await waitFor(() => expect(screen.getByLabelText('Luminance after the light of a room')).toBeTruthy())
  await hands.choose('Luminance after the light of a room', /^Plate Room, 500 lx: 135 cd\/m²/)
  await hands.press('Save aim')
  // White paper: 0.85 · 500 ÷ π.
  expect((await sentAim()).luminance).toBe(135)
})

test('near 4,000 K it is said that whites jump there from blackbody to daylight @long', async () => {
  edit()
  await hands.choose('White', 'Temperature')
  expect(screen.queryByText(/daylight/i)).toBeNull()
  await hands.write('Temperature, K', '3900')
  expect(await screen.findByText(/daylight/i)).toBeTruthy()
})

test('as bright as it goes and by the room’s light are one or the other, and luminance becomes the least @long', async () => {
  edit()
  await hands.tick(/^As bright as the display goes/)
  const byRoom = screen.getByRole('checkbox', { name: /^As bright as paper/ }) as HTMLInputElement
  await waitFor(() => expect(byRoom.disabled).toBe(true))
  await hands.write('At least, cd/m²', '90')
  await hands.press('Save aim')
  expect(await sentAim()).toMatchObject({ asBright: true, luminance: 90 })
})

test.each([
  ['Lifted, relative to it', { kind: 'relative', factor: 1.5 }],
  ['Lifted, to a luminance', { kind: 'fixed', luminance: 0.2 }],
])('a black that is %s begins with a figure, and says which displays can @long', async (label, black) => {
  edit()
  await hands.choose('Black', label)
  expect(await screen.findByText(/3D table/)).toBeTruthy()
  await hands.press('Save aim')
  expect((await sentAim()).black).toEqual(black)
})

test('primaries on one line are told, those of a triangle are sent @long', async () => {
  edit()
  await hands.choose('Primaries', 'xy by hand')
  // Red once more.
  await hands.write('Blue x', '0.64')
  await hands.write('Blue y', '0.33')
  await hands.press('Save aim')
  expect(await screen.findByText(/three corners of a triangle/)).toBeTruthy()
  expect(api.sent).toEqual([])
  await hands.write('Blue x', '0.15')
  await hands.write('Blue y', '0.06')
  await hands.press('Save aim')
  expect((await sentAim()).primaries).toMatchObject({ kind: 'xy', blue: { x: 0.15, y: 0.06 } })
})

test('a new aim needs a name; what the server refuses stands at its field @long', async () => {
  show(<AimEditor stored={null} initial={aim} mayEdit />)
  await hands.press('Add aim')
  expect(await screen.findByText(/“Name” is missing/)).toBeTruthy()
  api.answers = {
    'POST /api/aims': refusal(409, 'There is an aim “Atlas web” already.', 'name'),
  }
  await hands.write('Name', 'Atlas web')
  await hands.press('Add aim')
  expect(await screen.findByText('There is an aim “Atlas web” already.')).toBeTruthy()
})

test('who may not change it sees every figure, and no button that would', () => {
  show(<AimEditor stored={stored} initial={aim} mayEdit={false} />)
  expect(screen.queryByRole('button', { name: /aim$/ })).toBeNull()
  expect((screen.getByLabelText('Luminance, cd/m²') as HTMLInputElement).disabled).toBe(true)
})
