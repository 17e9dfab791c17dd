import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import AxeBuilder from '@axe-core/playwright'
import { expect, test as base, type Page } from '@playwright/test'
import { startServer } from '@bichroma/server'
import { fleetFolder } from '../scripts/bench/fleetReads'

// A studio of 420 displays in 20 rooms: rooms are rows, and lists come in parts.

const test = base.extend<object, { url: string }>({
  url: [
    async ({}, use) => {
      const folder = mkdtempSync(join(tmpdir(), 'bichroma-e2e-fleet-'))
      await fleetFolder(folder, { displays: 420, validations: 420 * 6, worked: 20 })
      const server = await startServer({ dataDir: folder, webDir: 'packages/web/dist', durable: false })
      await use(server.url)
      await server.close()
      rmSync(folder, { recursive: true, force: true })
    },
    { scope: 'worker' },
  ],
})

async function signIn(page: Page, url: string, to = '/') {
  await page.goto(url + to)
  await page.getByLabel('Login').fill('bench')
  await page.getByLabel('Password').fill('a-large-fleet')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('navigation', { name: 'Areas' })).toBeVisible()
}

test('Floor: rooms as rows, one opens to its displays; what needs someone is counted', async ({ page, url }) => {
  await signIn(page, url)
  await expect(page.getByRole('heading', { name: /^\d+ of 420 screens can be trusted today$/ })).toBeVisible()
  const room = page.getByRole('button', { name: /^Diorama light 1 ?21 displays/ })
  await expect(room).toHaveAttribute('aria-expanded', 'false')
  await room.press('Enter')
  await expect(page.getByRole('link', { name: /^Aim ring.*Desk 20 / })).toBeVisible()
  await expect(page.locator('.inside .tile')).toHaveCount(21)
  await page.getByRole('link', { name: /and \d+ more, the worst first/ }).click()
  await expect(page.getByRole('heading', { name: 'Needs someone' })).toBeVisible()
  await expect(page.getByRole('table', { name: 'Displays that need someone' }).getByRole('row').nth(1)).toContainText(
    /profile (missing|overridden)/,
  )
})

test('Register: all of it by keyboard, searched and filtered, and there again after going back @long', async ({
  page,
  url,
}) => {
  await signIn(page, url, '/register')
  const table = page.getByRole('table', { name: 'Displays' })
  const first = table.getByRole('row').nth(1)
  await first.focus()
  await expect(first).toContainText('Desk 1')
  // End goes to the last of those that were brought, and brings more, until there is no more.
  await expect(async () => {
    await page.keyboard.press('End')
    await expect(page.locator('tr:focus')).toContainText('Desk 420', { timeout: 300 })
  }).toPass()
  await page.keyboard.press('ArrowUp')
  await expect(page.locator('tr:focus')).toContainText('Desk 419')
  expect(await table.getByRole('row').count()).toBeLessThan(80)

  await page.getByLabel('Find a display').fill('desk 41')
  await expect(table).toHaveAttribute('aria-rowcount', '15')
  await expect(page).toHaveURL(/search=desk\+41/)
  await page.getByRole('button', { name: 'Verdict' }).click()
  await expect(page).toHaveURL(/sort=verdict/)
  await first.focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /^Desk 41/ })).toBeVisible()
  await page.goBack()
  await expect(page.getByLabel('Find a display')).toHaveValue('desk 41')
  await expect(table).toHaveAttribute('aria-rowcount', '15')
})

test('scrolling through long lists brings what is scrolled to @long', async ({ page, url }) => {
  await signIn(page, url, '/runs')
  const region = page.getByRole('region', { name: 'Runs' })
  await expect(region.getByRole('row').nth(2)).toBeVisible()
  for (let i = 0; i < 12; i++) {
    await region.evaluate((e) => e.scrollTo({ top: e.scrollHeight }))
    await expect(region.getByRole('row').nth(2)).toBeVisible()
  }
  const index = async () => Number(await region.getByRole('row').last().getAttribute('aria-rowindex'))
  await expect.poll(index).toBeGreaterThan(600)
})

test('no accessibility violations where rooms are rows and lists are long @long', async ({ page, url }) => {
  await signIn(page, url)
  for (const path of ['/', '/needs', '/register', '/runs', '/review', '/rollout', '/rounds', '/drift']) {
    await page.goto(url + path)
    await expect(page.getByRole('row').or(page.locator('.standing')).nth(3)).toBeVisible()
    const { violations } = await new AxeBuilder({ page })
      .setLegacyMode()
      .options({ resultTypes: ['violations'] })
      .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
      .analyze()
    expect(violations.map((v) => `${path}: ${v.id} ${v.nodes[0].target}`)).toEqual([])
  }
})
