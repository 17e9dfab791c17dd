import type { Page } from '@playwright/test'
import type { DisplayListing } from '@bichroma/contract'
import { expect, goTo, signIn, test, type Demo } from './studio'

test.use({ place: 'runs' })

const displaysOf = (page: Page) =>
  page.evaluate(async () => ((await (await fetch('/api/displays')).json()) as { items: unknown }).items) as Promise<
    DisplayListing[]
  >

/** Opens “Start a run” for a display. */
async function startFor(page: Page, demo: Demo, name: string, kind: string): Promise<void> {
  const { id } = (await displaysOf(page)).find((d) => d.name === name)!
  await page.goto(`${demo.url}/runs/new?display=${id}&kind=${kind}&slot=1`)
  await expect(page.getByRole('heading', { name: `Rack of ${name}` })).toBeVisible()
}

/** Turns a display's own brightness as the gauge on screen says, until it is gone. */
async function followGauge(page: Page, demo: Demo, serial: string): Promise<void> {
  const gauge = page.locator('.gauge .turn')
  await expect(gauge).toBeVisible({ timeout: 120_000 })
  let turned = ''
  while (await gauge.isVisible()) {
    const words = (await gauge.textContent({ timeout: 1000 }).catch(() => null)) ?? ''
    const found = /brightness (up|down)([\d.]+) cd\/m², to rest between ([\d.]+) and ([\d.]+)/.exec(words)
    if (!found || words === turned) {
      await page.waitForTimeout(50)
      continue
    }
    turned = words
    const [newest, from, to] = found.slice(2).map(Number)
    const { slots, activeSlot } = (await demo.state()).workstations
      .flatMap((w) => w.displays)
      .find((d) => d.serial === serial)!
    const now = slots[activeSlot - 1].backlight
    const wanted = Math.round((now * (from + to)) / 2 / newest)
    const backlight = found[1] === 'up' ? Math.max(now + 1, wanted) : Math.min(now - 1, wanted)
    await demo.fault('buttons', { display: serial, backlight: Math.min(100, Math.max(0, backlight)) })
  }
}

test('a display that obeys only hands: its warmth is measured, its brightness turned by the gauge @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'technician')
  const field = (await displaysOf(page)).find((d) => d.name === 'Field 4')!
  await demo.fault('carry', { instrument: 'TC-0288', workstation: 'field-03' })
  await demo.fault('buttons', { display: field.serial, backlight: 95 })
  await startFor(page, demo, 'Field 4', 'full')
  await expect(page.getByText('TC-0288 is plugged in')).toBeVisible()
  await page.getByText('brief', { exact: true }).click()
  await page.getByRole('button', { name: /^Start full run and overwrite/ }).click()
  await expect(page.getByRole('heading', { name: 'Warming up' })).toBeVisible({ timeout: 60_000 })
  await followGauge(page, demo, field.serial)
  await expect(page.getByRole('button', { name: 'Open review' })).toBeVisible({ timeout: 180_000 })
  await expect(page.locator('.sheet')).toContainText('Brightness turned by hand')
})

test('three runs in the queue, one after another; the one in the middle fails and says why @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'technician')
  await demo.fault('dynamicContrast', { display: 'MR-32-006996', on: true })
  for (const [name, kind] of [
    ['Dome 4', 'check'],
    ['Dome 3', 'check'],
    ['Dome 4', 'spot'],
  ]) {
    await startFor(page, demo, name, kind)
    await page.getByText('in its turn', { exact: true }).click()
    await page.getByRole('button', { name: /^Queue / }).click()
    await expect(page.getByRole('heading', { name: 'Runs', exact: true })).toBeVisible()
  }
  const rows = page.locator('tbody tr.goes')
  await expect(rows.nth(0)).toContainText(/Spot run.*Dome 4.*done/, { timeout: 180_000 })
  await expect(rows.nth(1)).toContainText(/Check run.*Dome 3.*failed/)
  await expect(rows.nth(2)).toContainText(/Check run.*Dome 4.*done/)
  await rows.nth(1).click()
  await expect(page.getByRole('alert')).toContainText('Turn dynamic contrast off in the display’s own menu')
  await demo.fault('dynamicContrast', { display: 'MR-32-006996', on: false })
})

test('the server dies in the middle of a refresh: the sheet says so, and the run is resumed to its end @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'technician')
  await startFor(page, demo, 'Sedge 2', 'refresh')
  await page.getByRole('button', { name: 'Start refresh of slot 1' }).click()
  await expect(page.locator('.stage.now')).toContainText('Shape', { timeout: 120_000 })
  await expect(page.locator('.log tbody tr').nth(14)).toBeVisible({ timeout: 60_000 })
  await demo.restartServer()
  await expect(page.getByRole('alert')).toContainText(/The server stopped during .* readings are kept/)
  await page.getByRole('button', { name: 'Resume run' }).click()
  await expect(page.getByRole('button', { name: 'Open review' })).toBeVisible({ timeout: 180_000 })
  await expect(page.locator('.sheet')).toContainText('of an earlier run')
})

test('the register shows which display is which, and makes corrections @long', async ({ page, demo }) => {
  await signIn(page, demo, 'technician')
  await goTo(page, 'Register')
  await page.getByRole('row', { name: /^Sedge 2/ }).click()
  await page.getByRole('button', { name: 'Show me which' }).click()
  await expect(page.getByText('Sedge 2 shows its name and number for 12 seconds.')).toBeVisible()

  await demo.fault('carry', { instrument: 'HS-0031', workstation: 'sedge-02' })
  await goTo(page, 'Register')
  // All of them by number, or the newest of so many.
  const told = page.locator('section', { hasText: 'Corrections' }).last().locator('.head span').last()
  const before = Number(/\d+$/.exec((await told.textContent())!)![0])
  await page.getByRole('button', { name: 'Make correction' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('combobox', { name: 'Display' }).click()
  await dialog.getByRole('combobox', { name: 'Display' }).fill('Dome 4')
  await page.getByTitle(/^Dome 4/).click()
  await expect(dialog.getByText('Plug a spectroradiometer in where Dome 4 is.')).toBeVisible()
  await expect(dialog.getByRole('button', { name: 'Make correction' })).toBeDisabled()
  await dialog.getByRole('combobox', { name: 'Display' }).fill('Sedge 2')
  await page.getByTitle(/^Sedge 2/).click()
  await expect(dialog.getByText(/TC-0417 is corrected to Spectro S1 HS-0031/)).toBeVisible()
  await dialog.getByRole('button', { name: 'Make correction' }).click()
  await expect(page.getByText(/The correction leaves 0\.00\d\d Δu′v′/)).toBeVisible({ timeout: 120_000 })
  await expect(told).toHaveText(new RegExp(`(^| )${before + 1}$`))
})
