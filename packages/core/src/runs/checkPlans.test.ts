import { black, provePatches, white } from './patches'
import { checkPlanNames, checkPlans, ownCheckPatches } from './checkPlans'

test('from a glance to a survey, about 14, 30, 40, 60 and more patches; white and black in each, no colour twice', () => {
  expect(checkPlanNames.map((n) => checkPlans[n].patches.length)).toEqual([14, 30, 39, 64, 125])
  for (const name of checkPlanNames) {
    const keys = checkPlans[name].patches.map((p) => p.rgb.join(' '))
    expect(new Set(keys).size).toBe(keys.length)
    expect(keys).toContain('1 1 1')
    expect(keys).toContain('0 0 0')
    expect(checkPlans[name].patches[0]).toEqual(white)
    const names = checkPlans[name].patches.map((p) => p.name)
    for (const hue of ['Red', 'Green', 'Blue', 'Cyan', 'Magenta', 'Yellow']) expect(names).toContain(hue)
  }
  expect(checkPlans.usual.patches).toBe(provePatches)
})

test('a list of one’s own gets white first and black where it has none, and keeps its names', () => {
  const own = ownCheckPatches([
    { name: 'Moss', rgb: [0.2, 0.3, 0.1] },
    { name: 'Paper', rgb: [1, 1, 1] },
    { name: 'Moss again', rgb: [0.2, 0.3, 0.1] },
  ])
  expect(own).toEqual([{ name: 'Paper', rgb: [1, 1, 1] }, black, { name: 'Moss again', rgb: [0.2, 0.3, 0.1] }])
})
