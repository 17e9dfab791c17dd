import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import { chromiumArgs, chromiumPath } from '../chromium.mjs'
import { demoAccounts } from '../demoStudio'
import { Processes } from '../processes.mjs'
import { note, report } from './measure'

const rounds = 7
const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]

/** A JPEG of 4,000 × 3,000 pixels with something in it, drawn by the browser. */
const drawJpeg = `(async () => {
  const canvas = new OffscreenCanvas(4000, 3000)
  const context = canvas.getContext('2d')
  for (let i = 0; i < 4000; i++) {
    context.fillStyle = 'hsl(' + (i * 37) % 360 + ' 60% ' + (i * 13) % 100 + '%)'
    context.fillRect((i * 997) % 4000, (i * 613) % 3000, 160, 120)
  }
  return [...new Uint8Array(await (await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 })).arrayBuffer())]
})()`

/** Keeps how long the page's own thread was busy at a time, ms. */
const watchTasks = `window.longTasks = []
new PerformanceObserver((list) => window.longTasks.push(...list.getEntries().map((e) => e.duration))).observe({ entryTypes: ['longtask'] })`

/** Opens pictures in Review as a person does, and times them from the choice of the file to the picture shown. */
export async function benchPictures(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'bichroma-pictures-'))
  if (existsSync('.demo/made-7')) cpSync('.demo', folder, { recursive: true })
  else spawnSync(process.execPath, ['--import', 'tsx', 'scripts/makeDemo.ts', '--folder', folder])
  const processes = new Processes()
  const { url } = await processes.startDemo({ folder, port: '0', pace: '4', web: 'packages/web/dist' })
  const browser = await chromium.launch({ executablePath: chromiumPath(), args: chromiumArgs })
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await openPictures(page, url)
    const file = join(folder, 'picture.jpg')
    writeFileSync(file, Buffer.from(await page.evaluate<number[]>(drawJpeg)))
    const took: number[] = []
    await page.evaluate(watchTasks)
    for (let i = 0; i < rounds; i++) {
      // Another picture in between, so that the file is opened anew each time.
      await page.locator('.picturebar .ant-select').click()
      await page.getByTitle('Ramps', { exact: true }).last().click()
      await page.getByText('840 × 560 pixels', { exact: false }).waitFor()
      await page.evaluate('window.longTasks.length = 0')
      const began = performance.now()
      await page.getByLabel('Picture of your own').setInputFiles(file)
      await page.getByText('12.0 million pixels', { exact: false }).waitFor()
      took.push(performance.now() - began)
    }
    const longest = Math.max(0, ...(await page.evaluate<number[]>('window.longTasks')))
    report('chosen to shown, median', `${median(took).toFixed(0)} ms`, '≤ 1,500 ms', median(took) <= 1500)
    report(
      'longest task on the page’s own thread',
      longest ? `${longest.toFixed(0)} ms` : 'none of 50 ms',
      '< 50 ms',
      longest < 50,
    )
    note(`all turns: ${took.map((t) => t.toFixed(0)).join(', ')} ms`)
  } finally {
    await browser.close()
    processes.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

async function openPictures(page: Page, url: string) {
  const { login, password } = demoAccounts[0]
  await page.goto(url)
  await page.getByLabel('Login').fill(login)
  await page.getByLabel('Password').fill(password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.getByRole('navigation', { name: 'Areas' }).waitFor()
  const runs = (await (await page.request.get(`${url}/api/runs`)).json()) as { id: number; kind: string }[]
  await page.goto(`${url}/review/${runs.find((r) => r.kind === 'full')!.id}`)
  await page.getByText('Pictures', { exact: true }).click()
  await page.getByText('ΔE2000 apart', { exact: false }).waitFor()
}
