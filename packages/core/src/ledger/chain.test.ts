import { createHash } from 'node:crypto'
import fc from 'fast-check'
import { ChainCheck, chainStart, entryHash, type ChainedEntry } from './chain'

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex')

/** A ledger of so many entries, each unlike the others. */
function ledger(count: number): ChainedEntry[] {
  const entries: ChainedEntry[] = []
  for (let id = 1; id <= count; id++) {
    const entry = {
      at: 1000 * id,
      accountId: id % 3 ? id : null,
      by: `Person ${id % 4}`,
      act: 'changed',
      thing: 'display',
      thingId: id,
      name: `Sedge ${id}`,
      told: JSON.stringify({ changes: [{ field: 'days', to: id }] }),
      previous: entries.at(-1)?.hash ?? chainStart,
    }
    entries.push({ id, ...entry, hash: entryHash(sha256, entry) })
  }
  return entries
}
const prove = (entries: readonly ChainedEntry[], given: number | undefined) => {
  const check = new ChainCheck(sha256)
  for (const entry of entries) check.take(entry)
  return check.end(given)
}

test('a whole ledger holds, and an empty one', () => {
  const entries = ledger(20)
  expect(prove(entries, 20)).toEqual({ entries: 20, head: entries[19].hash, faults: [] })
  expect(prove([], undefined)).toEqual({ entries: 0, head: null, faults: [] })
})

test('the hash is SHA-256 of the JSON of hash before and contents, as anybody can work out', () => {
  const [first] = ledger(1)
  const text = `["",1000,1,"Person 1","changed","display",1,"Sedge 1","{\\"changes\\":[{\\"field\\":\\"days\\",\\"to\\":1}]}"]`
  expect(first.hash).toBe(createHash('sha256').update(text).digest('hex'))
})

const fields = ['at', 'accountId', 'by', 'act', 'thing', 'thingId', 'name', 'told', 'previous', 'hash'] as const

test('any field of any entry that is another is found at that entry', () => {
  fc.assert(
    fc.property(fc.integer({ min: 2, max: 30 }), fc.nat(), fc.constantFrom(...fields), (count, seed, field) => {
      const entries = ledger(count)
      const at = seed % count
      const value = typeof entries[at][field] === 'number' ? 424_242 : 'another'
      entries[at] = { ...entries[at], [field]: value }
      expect(prove(entries, count).faults[0].id).toBe(at + 1)
    }),
  )
})

test('any run of entries that is taken out is found, at the end by the numbers that were given out', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 30 }), fc.nat(), fc.integer({ min: 1, max: 5 }), (count, seed, taken) => {
      const entries = ledger(count)
      entries.splice(seed % count, taken)
      expect(prove(entries, count).faults.length).toBeGreaterThan(0)
    }),
  )
})

test('two entries that changed places are found', () => {
  fc.assert(
    fc.property(fc.integer({ min: 3, max: 20 }), fc.nat(), (count, seed) => {
      const entries = ledger(count)
      const at = seed % (count - 1)
      ;[entries[at], entries[at + 1]] = [entries[at + 1], entries[at]]
      expect(prove(entries, count).faults.length).toBeGreaterThan(0)
      // Renumbered, they still do not follow one another.
      expect(
        prove(
          entries.map((e, i) => ({ ...e, id: i + 1 })),
          count,
        ).faults.length,
      ).toBeGreaterThan(0)
    }),
  )
})
