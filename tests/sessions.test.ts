import { Studio } from './studio'

let studio: Studio
beforeAll(async () => {
  studio = await Studio.open()
})
afterAll(() => studio.close())

/** Opens a stream of events; `ended` resolves once it is over. */
async function listen(cookie: string) {
  const response = await fetch(`${studio.server.url}/api/events`, { headers: { cookie } })
  const reader = response.body!.getReader()
  const heard: string[] = []
  const ended = (async () => {
    for (;;) {
      const { done, value } = await reader.read()
      if (done) return
      heard.push(Buffer.from(value).toString())
    }
  })().catch(() => {})
  return { status: response.status, heard, ended }
}

test('signing out ends the streams of that session at once, and of no other', async () => {
  const [leaves, stays] = [await studio.as('viewer'), await studio.as('viewer')]
  const streams = [await listen(leaves.cookie), await listen(leaves.cookie)]
  const other = await listen(stays.cookie)
  expect(await leaves.ask('DELETE', '/session')).toEqual({ account: null })
  await Promise.all(streams.map((s) => s.ended))
  await studio.admin.post('/rooms', { name: 'Lantern Hall' })
  while (!other.heard.join('').includes('register')) await new Promise((resolve) => setTimeout(resolve, 2))
  expect(streams.map((s) => s.heard.join('').includes('register'))).toEqual([false, false])
})

test('of more than a dozen streams of one session the oldest gives way', async () => {
  const client = await studio.as('viewer')
  const streams = []
  for (let n = 0; n < 14; n++) streams.push(await listen(client.cookie))
  await Promise.all([streams[0].ended, streams[1].ended])
  await studio.admin.post('/rooms', { name: 'Dome' })
  while (!streams[13].heard.join('').includes('register')) await new Promise((resolve) => setTimeout(resolve, 2))
})

test('whoever has not signed in sends nothing large: it is refused before it is taken in', async () => {
  const large = 'x'.repeat(4_000_000)
  for (const [path, type] of [
    ['/displays/1/validations', 'application/json'],
    ['/settings/logo', 'image/png'],
  ]) {
    const response = await fetch(`${studio.server.url}/api${path}`, {
      method: path.includes('logo') ? 'PUT' : 'POST',
      headers: { 'content-type': type },
      body: JSON.stringify({ text: large }),
    }).catch(() => null)
    // Some clients are cut off while they are still sending.
    if (response) expect(response.status).toBe(401)
  }
})
