import { planRounds } from '@bichroma/core/rounds'
import { madeStudio } from '../packages/core/src/test/madeStudio'
let out = ''
for (const seed of [4, 6, 18, 31, 36, 43, 50]) {
  const visits = 15 + ((seed * 7) % 16)
  const problem = madeStudio(seed, {
    visits,
    people: 2,
    instruments: 3,
    days: 2,
    grid: 15,
    oneRoom: true,
    byDay: true,
    due: [3, 2],
  })
  out +=
    ' ' + seed + ': ' + [1, 2, 3].map((s) => planRounds(problem, { effort: 1, seed: s }).cost.late.toFixed(0)).join(',')
}
console.log(out)
