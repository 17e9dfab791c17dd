import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import type { Backup, Page as ListPage, Placement } from '@bichroma/contract'
import { builtProgram } from '../scripts/builtProgram.cjs'
import { demoAims } from '../scripts/demoStudio'

/** A program of this checkout, by its source, that tells in its first line of JSON where it is. */
async function start([source, ...args]: string[]) {
  const child = spawn(process.execPath, [builtProgram(source), ...args], { stdio: ['ignore', 'pipe', 'inherit'] })
  const gone = new Promise<number | null>((resolve) => child.once('exit', resolve))
  const told = await new Promise<Record<string, string>>((resolve, reject) => {
    let text = ''
    child.stdout.on('data', (chunk: Buffer) => {
      text += chunk.toString()
      const end = text.indexOf('\n')
      if (end > 0) resolve(JSON.parse(text.slice(0, end)) as Record<string, string>)
    })
    child.once('exit', () => reject(new Error(`${source} ended.`)))
  })
  return { told, end: (signal: NodeJS.Signals) => (child.kill(signal), gone) }
}

test('from an empty folder to a profile in force, a backup, a lost folder, and the same report again @long', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-e2e-first-'))
  const data = join(folder, 'data')
  const backups = join(folder, 'backups')
  const serve = () =>
    start([
      ...['packages/server/src/app/main.ts', '--data', data, '--port', '0', '--web', 'packages/web/dist'],
      ...['--backups', backups, '--backup-hours', '0'],
    ])
  let server = await serve()
  let { url } = server.told
  const programs = [server]
  try {
    // The first administrator, by the token of the console.
    await page.goto(url)
    await page.getByLabel('Token of the console').fill('AAAAA-BBBBB-CCCCC-DDDDD')
    await page.getByLabel('Your name').fill('Marit Oyen')
    await page.getByLabel('Login').fill('marit')
    await page.getByLabel('Password').fill('sedge-and-lantern')
    await page.getByRole('button', { name: 'Make the first administrator' }).click()
    await expect(page.getByText('This is not the token of the console.')).toBeVisible()
    await page.getByLabel('Token of the console').fill(server.told.first.toLowerCase())
    await page.getByRole('button', { name: 'Make the first administrator' }).click()

    // An empty studio says what to do first, and leads there.
    await expect(page.getByRole('heading', { name: 'No screen is here yet' })).toBeVisible()
    await page.getByRole('link', { name: 'Add a room' }).click()
    await page.getByRole('button', { name: 'Add room' }).click()
    await page.getByRole('dialog').getByLabel('Name').fill('Sedge Room')
    await page.getByRole('dialog').getByRole('button', { name: 'Add room' }).click()
    await expect(page.getByRole('dialog')).toHaveCount(0)
    await page.getByRole('button', { name: 'Add workstation' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByLabel('Name').fill('sedge-02')
    await dialog.getByLabel('System', { exact: true }).click()
    await page.locator('.ant-select-item-option').filter({ hasText: 'Linux' }).click()
    await dialog.getByLabel('Version of the system').fill('12')
    await dialog.getByRole('button', { name: 'Add workstation' }).click()
    const key = await page.getByTestId('courier-key').textContent()
    await page.getByRole('button', { name: 'Done' }).click()

    // Its courier, of the bench; then the display that it reports, and an aim.
    writeFileSync(join(folder, 'keys.json'), JSON.stringify({ 'sedge-02': key }))
    programs.push(
      await start([
        ...['packages/bench/src/main.ts', '--server', url, '--keys', join(folder, 'keys.json')],
        ...['--state', join(folder, 'bench'), '--pace', '60', '--counted', '--instrument', 'TC-0417@sedge-02'],
      ]),
    )
    await expect(page.getByText('courier online')).toBeVisible()
    await page.getByRole('button', { name: 'Add display' }).click()
    const fields = {
      'Name in the studio': 'Sedge 2',
      Maker: 'Quillon',
      Model: 'Q27',
      'Serial number': 'QL-27-04418',
      Firmware: '3.1',
    }
    for (const [label, text] of Object.entries(fields)) await dialog.getByLabel(label, { exact: true }).fill(text)
    for (const [label, option] of [
      ['Workstation', 'sedge-02'],
      ['Panel', 'wide-gamut'],
      ['Limits', 'Working'],
    ]) {
      await dialog.getByLabel(label).click()
      await page.locator('.ant-select-item-option').filter({ hasText: option }).first().click()
    }
    await dialog.getByRole('button', { name: 'Add display' }).click()
    await expect(page.getByRole('row', { name: /^Sedge 2/ })).toBeVisible()
    const post = async <T>(path: string, body: object) => {
      const response = await page.request.post(`${url}/api${path}`, { data: body, headers: { origin: url } })
      expect(response.ok(), await response.text()).toBe(true)
      return (await response.json()) as T
    }
    await post('/aims', { name: 'Atlas web', aim: demoAims['Atlas web'] })

    // A full run, and its profile in force.
    await page.goto(`${url}/runs/new?display=1&kind=full&slot=1`)
    await page.getByText('brief', { exact: true }).click()
    await page.getByRole('button', { name: 'Start full run into slot 1' }).click()
    await expect(page.getByRole('button', { name: 'Open review' })).toBeVisible({ timeout: 180_000 })
    await post<{ id: number }>('/placements', { runId: 1 })
    const placed = async () => {
      const rows = (await (await page.request.get(`${url}/api/rollout`)).json()) as ListPage<{
        placement: Placement | null
      }>
      return rows.items[0].placement?.state
    }
    await expect.poll(placed).toBe('in force')
    const report = async () => (await page.request.get(`${url}/api/runs/1/report?as=html&evidence=1`)).body()
    const before = await report()
    expect(before.toString()).toContain('Sedge 2')

    // A backup, looked through before it counts.
    await page.getByRole('link', { name: 'Ledger' }).click()
    await page.getByRole('link', { name: 'Backups' }).click()
    await page.getByRole('button', { name: 'Make a backup' }).click()
    await expect(page.getByRole('cell', { name: /^bichroma-.*\.sqlite$/ })).toBeVisible()
    const [{ name }] = ((await (await page.request.get(`${url}/api/backups`)).json()) as { backups: Backup[] }).backups
    expect(readdirSync(backups)).toEqual([name])

    // The server ends in order; then its folder is gone.
    expect(await server.end('SIGTERM')).toBe(0)
    rmSync(data, { recursive: true, force: true })
    const restored = spawnSync(
      process.execPath,
      [builtProgram('packages/server/src/app/restore.ts'), join(backups, name), '--data', data],
      { encoding: 'utf8' },
    )
    expect(restored.stderr).toBe('')
    expect(restored.stdout).toMatch(/^Restored: 1 displays, 1 runs with \d+ readings/)
    expect(existsSync(join(data, 'bichroma.sqlite'))).toBe(true)

    server = await serve()
    programs.push(server)
    ;({ url } = server.told)
    expect(server.told.first).toBeNull()
    await page.goto(url)
    await page.getByLabel('Login').fill('marit')
    await page.getByLabel('Password').fill('sedge-and-lantern')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await expect(page.getByRole('heading', { name: '1 of 1 screens can be trusted today' })).toBeVisible()
    expect(Buffer.compare(await report(), before)).toBe(0)
    await page.goto(`${url}/ledger`)
    await page.getByRole('button', { name: 'Prove the ledger' }).click()
    await expect(page.getByRole('alert')).toContainText('entries follow one another, and none was changed')
  } finally {
    for (const program of programs) void program.end('SIGKILL')
    rmSync(folder, { recursive: true, force: true })
  }
})
