import { rollout } from '../scripts/ordeal/rollout'

/** The short form of `npm run -s ordeal -- rollout`. */
test('through faults of every kind, nothing is claimed in force that is not, no file of others is touched, nothing wanted is forgotten @long @long', async () => {
  const log = jest.spyOn(console, 'error').mockImplementation(() => {})
  const { wrong, caused, waves, claims, files, inForce } = await rollout(6, 2, 96, 3)
  log.mockRestore()
  expect(wrong).toEqual([])
  expect([caused, waves > 0, claims > 50, files > 50]).toEqual([96, true, true, true])
  expect(inForce[0]).toBe(inForce[1])
  expect(inForce[1]).toBeGreaterThan(8)
})
