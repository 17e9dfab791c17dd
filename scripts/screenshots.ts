import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import { chromiumArgs, chromiumPath } from './chromium.mjs'
import { demoAccounts } from './demoStudio'
import { Processes } from './processes.mjs'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-shots-'))
const out = 'docs/screenshots'

/** One current picture per main view at 1280x800, from the demo studio with a run going on. */
async function main() {
  mkdirSync(out, { recursive: true })
  const made = spawnSync(process.execPath, ['--import', 'tsx', 'scripts/makeDemo.ts', '--folder', folder], {
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  if (made.status !== 0) throw new Error('The demo studio could not be made.')
  const processes = new Processes()
  const { url } = await processes.startDemo({ folder, port: '0', pace: '8', web: 'packages/web/dist' })
  const browser = await chromium.launch({ executablePath: chromiumPath(), args: chromiumArgs })
  try {
    await take(await browser.newPage({ viewport: { width: 1280, height: 800 } }), url)
  } finally {
    await browser.close()
    processes.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

async function take(page: Page, url: string) {
  const { login, password } = demoAccounts[0]
  const shot = async (name: string) => {
    await page.getByText('Loading…').waitFor({ state: 'detached' })
    await page.evaluate('document.fonts.ready')
    await page.mouse.move(0, 0)
    await page.screenshot({ path: join(out, `${name}.png`) })
    console.log(`${out}/${name}.png`)
  }
  const open = async (path: string, ready: string) => {
    await page.goto(url + path)
    await page.getByRole('heading', { name: ready }).first().waitFor()
  }
  await page.goto(url)
  await page.getByLabel('Login').fill(login)
  await page.getByLabel('Password').fill(password)
  await page.getByRole('button', { name: 'Sign in' }).click()

  await page.getByRole('heading', { name: 'screens can be trusted' }).waitFor()
  await shot('floor')
  await open('/register', 'Register')
  await page.getByText('Quillon Q27').first().waitFor()
  await shot('register')
  await open('/register/2', 'Sedge 2')
  await page.getByText('Luminance off aim').waitFor()
  await shot('display')
  await open('/aims', 'Aims and limits')
  await page.getByLabel('Luminance, cd/m²').waitFor()
  await shot('aims')
  await open('/aims/limits', 'Aims and limits')
  await page.getByLabel('Near edge').first().waitFor()
  await shot('limits')
  await open('/runs/new?display=2&kind=full&slot=1', 'Start a run')
  await shot('start-run')
  await page.getByRole('button', { name: 'Start full run and overwrite' }).click()
  await page
    .getByText(/Grey 80.* %, round 2/)
    .first()
    .waitFor({ timeout: 120_000 })
  await shot('run')
  await page.getByRole('button', { name: 'Open review' }).waitFor({ timeout: 120_000 })
  await page.getByRole('button', { name: 'Open review' }).click()
  await page.getByRole('heading', { name: '39 patches' }).waitFor()
  await shot('review')
  await page.getByRole('button', { name: 'Place profile' }).click()
  await page.getByText('read back by the courier').waitFor()
  await shot('rollout')
  await open('/rounds', 'overdue')
  await shot('rounds')
  await page.getByRole('button', { name: 'Dark theme' }).click()
  await open('/', 'screens can be trusted')
  await shot('floor-light')
}

main().catch((error: Error) => {
  console.error(error)
  process.exit(1)
})
