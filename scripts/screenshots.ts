import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import { localDate } from '@bichroma/core/rounds'
import type { DisplayListing, Week } from '@bichroma/contract'
import { chromiumArgs, chromiumPath, webGlArgs } from './chromium.mjs'
import { demoAccounts } from './demoStudio'
import { Processes } from './processes.mjs'
import { buildWeb } from './webBuild.mjs'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-shots-'))
const out = 'docs/screenshots'

/** One current picture per main view at 1280x800, from the demo studio with a run going on. */
async function main() {
  mkdirSync(out, { recursive: true })
  buildWeb()
  const made = spawnSync(process.execPath, ['--import', 'tsx', 'scripts/makeDemo.ts', '--folder', folder], {
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  if (made.status !== 0) throw new Error('The demo studio could not be made.')
  const processes = new Processes()
  const { url, control } = await processes.startDemo({ folder, port: '0', pace: '8', web: 'packages/web/dist' })
  const browser = await chromium.launch({ executablePath: chromiumPath(), args: [...chromiumArgs, ...webGlArgs] })
  try {
    await take(await browser.newPage({ viewport: { width: 1280, height: 800 } }), url, control)
  } finally {
    await browser.close()
    processes.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

async function take(page: Page, url: string, control: string) {
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
  await open('/runs/new?display=2&kind=full&slot=1', 'Start a run')
  await page.getByRole('button', { name: 'Start full run and overwrite' }).click()
  await page
    .getByText(/Grey 8\d.* %, round 1/)
    .first()
    .waitFor({ timeout: 120_000 })
  await shot('run')
  await page.getByRole('button', { name: 'Open review' }).waitFor({ timeout: 120_000 })
  await page.getByRole('button', { name: 'Open review' }).click()
  await page.getByRole('heading', { name: '39 patches' }).waitFor()
  await shot('review')
  const review = page.url()
  await page.getByText('Gamut', { exact: true }).click()
  await page.getByText('Volume covered').waitFor()
  await shot('gamut')
  await open('/drift', 'Drift')
  await page.getByText('Instruments beside each other').waitFor()
  await shot('drift')
  await page.goto(review)
  await page.getByRole('heading', { name: '39 patches' }).waitFor()
  await page.getByRole('button', { name: 'Place profile' }).click()
  await page.getByText('read back by the courier').waitFor()
  await rolloutViews(page, shot)
  await open('/runs/new?display=2&kind=check&slot=1', 'Start a run')
  await page.getByText('in its turn', { exact: true }).click()
  await page.getByRole('button', { name: 'Queue check run of slot 1' }).click()
  await page.getByText('queued').or(page.getByText('running')).first().waitFor()
  await handsRuns(page, url, control, shot)
  await open('/rounds', 'overdue')
  await shot('rounds')
  await roundsViews(page, url, control, shot)
  await open('/peers/1', 'Loops in the hall')
  await page.getByRole('table', { name: /Pairs of members/ }).waitFor()
  await shot('peers')
  await open('/ledger', 'Ledger')
  await page.getByText('entries follow').or(page.getByRole('row').nth(3)).first().waitFor()
  await shot('ledger')
  await page.getByRole('button', { name: 'Dark theme' }).click()
  await open('/register/rooms/4', 'Diorama Shop: ')
  await page.getByRole('region', { name: 'Light by weekday and hour' }).waitFor()
  await page.getByRole('button', { name: 'End the watch' }).waitFor()
  await shot('room')
}

/** Rollout as the demo's story left it, and a wave while its rest waits for a word. */
async function rolloutViews(page: Page, shot: (name: string) => Promise<void>) {
  // Among the first rows, whatever the height.
  await page.getByLabel('Find a display').fill('Lantern')
  await page.getByRole('row', { name: /Sedge 2/ }).waitFor({ state: 'detached' })
  await page.getByRole('row', { name: /Lantern 5/ }).click()
  await page.getByText('Glint-Arcade.icc').first().waitFor()
  await shot('rollout')
  await page.getByRole('button', { name: 'Prepare a wave' }).click()
  await page.getByLabel('First few').fill('2')
  await page.getByRole('combobox', { name: 'The rest goes once' }).click()
  await page.getByTitle('they were read back and somebody says so').click()
  await page.getByRole('button', { name: /^Start wave with/ }).click()
  await page.getByText('The rest waits for somebody’s word.').waitFor()
  await shot('wave')
}

/** The week with a visit chosen, a tour on a phone, the page of a desk, and how well it is kept. */
async function roundsViews(page: Page, url: string, control: string, shot: (name: string) => Promise<void>) {
  await page.goto(`${url}/rounds/week`)
  await page.locator('.visit').nth(4).click()
  await page.getByText('Told', { exact: true }).waitFor()
  await shot('week')
  const week = (await (await page.request.get(`${url}/api/rounds/week`)).json()) as Week
  const visit = week.visits.find((v) => v.state === 'planned')!
  const tour = `${url}/rounds/tour?person=${visit.personId}&date=${localDate(visit.at!, week.hours.zone)}`
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(tour)
  await page.getByRole('button', { name: /^Start/ }).waitFor()
  await shot('tour')
  await page.setViewportSize({ width: 1280, height: 800 })
  const desks = (await (await fetch(`${control}/desks`)).json()) as Record<string, { page: string }>
  await page.goto(url + desks['hall-01'].page)
  await page.getByText('Lantern 1').waitFor()
  await shot('desk')
  await page.goto(`${url}/kept`)
  await page.getByRole('row', { name: /All displays/ }).waitFor()
  await shot('kept')
}

/** A run that waits for hands: for settings that the workstation does not tell. */
async function handsRuns(page: Page, url: string, control: string, shot: (name: string) => Promise<void>) {
  const fault = (name: string, body: object) =>
    fetch(`${control}/faults/${name}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
  const displays = (await page.evaluate(
    async () => ((await (await fetch('/api/displays')).json()) as { items: unknown }).items,
  )) as DisplayListing[]
  const start = async (name: string, instrument: string, workstation: string) => {
    await fault('carry', { instrument, workstation })
    const { id } = displays.find((d) => d.name === name)!
    await page.goto(`${url}/runs/new?display=${id}&kind=full&slot=1`)
    await page.getByText(`${instrument} is plugged in`).waitFor()
    await page.getByText('brief', { exact: true }).click()
    await page.getByRole('button', { name: /^Start full run/ }).click()
  }
  await start('Diorama 3', 'TC-0522', 'diorama-02')
  await page.getByRole('button', { name: 'Confirm it and go on' }).waitFor({ timeout: 120_000 })
  await shot('run-ready')
}

main().catch((error: Error) => {
  console.error(error)
  process.exit(1)
})
