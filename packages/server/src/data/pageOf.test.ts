import { DataSource } from 'typeorm'
import { uniformFrom } from '@bichroma/core/basics'
import type { Page } from '@bichroma/contract'
import { holdsAll } from './folded'
import { holds, pageOf, type ListOf } from './pageOf'

interface Row {
  id: number
  name: string
  size: number
}

let data: DataSource
let rows: Row[]
beforeAll(async () => {
  data = new DataSource({
    type: 'better-sqlite3',
    database: ':memory:',
    prepareDatabase: (connection: { function: (name: string, of: (text: string, words: string) => number) => void }) =>
      connection.function('holds_all', (text, words) => Number(holdsAll(text, words))),
  })
  await data.initialize()
  await data.query('CREATE TABLE thing (id INTEGER PRIMARY KEY, name TEXT NOT NULL, size REAL NOT NULL)')
  const random = uniformFrom(11)
  // Few sizes and names, so that many are alike.
  rows = Array.from({ length: 137 }, (_, i) => ({
    id: i + 1,
    name: ['Sedge', 'Réed', 'Fen “1”', 'Ålder 100 %', 'loft_2'][Math.floor(random() * 5)],
    size: Math.round(random() * 6) / 2 - 1,
  }))
  for (const { id, name, size } of rows) await data.query('INSERT INTO thing VALUES (?, ?, ?)', [id, name, size])
})
afterAll(() => data.destroy())

const list = (change: Partial<ListOf> = {}): ListOf => ({
  columns: 'id, name, size',
  from: 'thing',
  where: [],
  by: 'size',
  id: 'id',
  ...change,
})
/** All parts of a list, one after another. */
async function walk(of: ListOf, limit: number, between: () => Promise<void> = async () => {}): Promise<Page<Row>[]> {
  const parts: Page<Row>[] = []
  for (let cursor: string | undefined; ;) {
    const part = await pageOf<Row>(data, { cursor, limit: String(limit) }, of)
    parts.push(part)
    if (part.next === null) return parts
    cursor = part.next
    await between()
  }
}

describe.each([
  ['by number, up', { by: 'size', down: false }],
  ['by number, down', { by: 'size', down: true }],
  ['by text, up', { by: 'name', down: false }],
  ['by text, down', { by: 'name', down: true }],
  ['by an expression with parameters', { by: 'size * ? + ?', byParameters: [-2, 3], down: false }],
] as const)('a list sorted %s', (_, order) => {
  const keyOf = (row: Row) =>
    'byParameters' in order
      ? row.size * -2 + 3
      : order.by === 'name'
        ? Buffer.from(row.name).toString('latin1')
        : row.size
  const sorted = () =>
    [...rows].sort((a, b) => {
      const [x, y] = [keyOf(a), keyOf(b)]
      const up = x < y ? -1 : x > y ? 1 : a.id - b.id
      return order.down ? -up : up
    })

  test.each([1, 7, 50, 137, 500])('comes in parts of %i, each row once and in order', async (limit) => {
    const parts = await walk(list(order), limit)
    expect(parts.flatMap((p) => p.items.map((r) => r.id))).toEqual(sorted().map((r) => r.id))
    expect(parts).toHaveLength(Math.ceil(137 / limit))
    for (const { total, more } of parts) expect([total, more]).toEqual([137, false])
  })
})

test('rows that go or come meanwhile make no other come twice or be left out', async () => {
  const seen = await walk(list({ down: true }), 10, async () => {
    await data.query('DELETE FROM thing WHERE id = (SELECT id FROM thing WHERE id > 137 LIMIT 1)')
    await data.query(`INSERT INTO thing (name, size) VALUES ('new', 99)`)
  })
  const ids = seen.flatMap((p) => p.items.map((r) => r.id)).filter((id) => id <= 137)
  expect(new Set(ids).size).toBe(137)
  expect(ids).toHaveLength(137)
  await data.query('DELETE FROM thing WHERE id > 137')
})

test('what is sorted by does not stand among the columns, and the page says what was asked for alone', async () => {
  const { items } = await pageOf<Row>(data, { limit: '1' }, list())
  expect(Object.keys(items[0]).sort()).toEqual(['id', 'name', 'size'])
})

test('counting ends where nobody counts further, and the parts after say the same', async () => {
  const [first, second] = await walk(list({ countUpTo: 100 }), 50)
  expect([first.total, first.more, second.total, second.more]).toEqual([100, true, 100, true])
  const exactly = await pageOf<Row>(data, { limit: '5' }, list({ countUpTo: 137 }))
  expect([exactly.total, exactly.more]).toEqual([137, false])
})

test('conditions that are not asked for are left out; several hold together', async () => {
  const where = [
    null,
    false,
    undefined,
    { sql: 'size > ?', parameters: [0] },
    { sql: 'name = ? OR name = ?', parameters: ['Sedge', 'Réed'] },
  ] as const
  const { total } = await pageOf<Row>(data, {}, list({ where }))
  expect(total).toBe(rows.filter((r) => r.size > 0 && (r.name === 'Sedge' || r.name === 'Réed')).length)
})

describe('a search', () => {
  const found = async (search: string) => {
    const condition = holds('name', search)
    return new Set((await pageOf<Row>(data, { limit: '200' }, list({ where: [condition] }))).items.map((r) => r.name))
  }

  test.each([
    ['reed', ['Réed']],
    ['RÉED', ['Réed']],
    ['alder', ['Ålder 100 %']],
    ['100 %', ['Ålder 100 %']],
    ['%', ['Ålder 100 %']],
    ['_', ['loft_2']],
    ['2 loft', ['loft_2']],
    ['“1”', ['Fen “1”']],
    [`' OR 1=1 --`, []],
  ])('for %s goes by words, whatever their case and accents, and takes no sign for another', async (search, names) => {
    expect(await found(search)).toEqual(new Set(names))
  })

  test.each([undefined, '', '   '])('for nothing (%j) is none', (search) => {
    expect(holds('name', search)).toBeNull()
  })
})

test.each([
  ['no base64', '***'],
  ['no JSON', Buffer.from('{').toString('base64url')],
  ['another shape', Buffer.from('{"by":1}').toString('base64url')],
  ['too few', Buffer.from('[1,2]').toString('base64url')],
  ['too many', Buffer.from('[1,2,3,0,0]').toString('base64url')],
  ['a key that is a list', Buffer.from('[[1],2,3,0]').toString('base64url')],
  ['a key that is nothing', Buffer.from('[null,2,3,0]').toString('base64url')],
  ['a row that is no number', Buffer.from('[1,"2",3,0]').toString('base64url')],
  ['half a row', Buffer.from('[1,2.5,3,0]').toString('base64url')],
  ['less than none in all', Buffer.from('[1,2,-3,0]').toString('base64url')],
  ['nesting', Buffer.from('['.repeat(20_000)).toString('base64url')],
])('a cursor that no list gave is told as that: %s', async (_, cursor) => {
  await expect(pageOf(data, { cursor }, list())).rejects.toMatchObject({
    sentence: '“cursor” must be one that this list gave.',
    field: 'cursor',
  })
})

test.each([
  ['beyond every number', '[1e999,1,5,0]'],
  ['text where numbers stand', '["zzz",1,5,0]'],
  ['a row far away', `[1,${Number.MAX_SAFE_INTEGER},5,0]`],
])('one that was made up gives a part of the list and no fault: %s', async (_, key) => {
  const { items, total } = await pageOf<Row>(data, { cursor: Buffer.from(key).toString('base64url') }, list())
  expect(total).toBe(5)
  expect(items.every((r) => rows.some((row) => row.id === r.id))).toBe(true)
})
