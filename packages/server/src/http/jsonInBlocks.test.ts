import { jsonInBlocks } from './jsonInBlocks'

test.each([0, 1, 999, 1000, 1001, 2500])('%d entries are written as JSON writes them', async (count) => {
  const list = Array.from({ length: count }, (_, i) => ({ i, text: `“${i}”, [x]`, nothing: null }))
  expect(await jsonInBlocks(list)).toBe(JSON.stringify(list))
})
