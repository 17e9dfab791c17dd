import { peerFigures } from '@bichroma/core/peers'
import { pairSummary, pairTrials } from '../scripts/trial/pairTrials'

// Pairs of panels at random under instruments at random, of which the bench knows the truth; npm run -s alike does 500.
test('intervals of differences hold the truth about as often as they say, and are no wider than they must be @long', () => {
  const trials = pairTrials(132, () => {})
  for (const figure of peerFigures) {
    const { held, width, ideal, count } = pairSummary(trials, figure)
    expect(count).toBe(132)
    // 95 of 100, give or take what so few pairs leave to chance.
    expect(held).toBeGreaterThan(0.88)
    expect(width).toBeLessThan(1.3 * ideal)
  }
  // What one instrument has wrong falls out; what two have does not.
  const widthOf = (of: string) =>
    pairSummary(
      trials.filter((t) => t.of === of),
      'luminance',
    ).width
  expect(widthOf('two instruments')).toBeGreaterThan(2 * widthOf('corrected on each'))
})
