import { createHmac } from 'node:crypto'
import { expect, goTo, signIn, test } from './studio'

test.use({ place: 'places' })

test('a display is replaced at its desk, the old one is put away with its history, and an inventory shows what it would do', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await page.goto(`${demo.url}/register/1`)
  await page.getByRole('button', { name: 'Replace', exact: true }).click()
  const dialog = page.getByRole('dialog', { name: 'Another display at the desk of Sedge 1' })
  await dialog.getByRole('button', { name: 'Replace it' }).click()
  await expect(dialog.getByText('“Serial number” is missing; it is needed.')).toBeVisible()
  await dialog.getByLabel('Maker').fill('Ostrel')
  await dialog.getByLabel('Model').fill('Reed 24')
  await dialog.getByLabel('Serial number').fill('OS-24-90001')
  await dialog.getByLabel('Firmware').fill('1.9')
  await dialog.getByRole('combobox', { name: 'Panel' }).click()
  await page.getByTitle('quantum dot', { exact: true }).last().click()
  await dialog.getByLabel('Why').fill('A dead row.')
  await dialog.getByRole('button', { name: 'Replace it' }).click()
  await expect(page.getByText('OS-24-90001')).toBeVisible()
  await expect(page.getByRole('heading', { name: /Sedge 1/ })).toBeVisible()

  await goTo(page, 'Register')
  await page.getByRole('link', { name: 'Put away' }).click()
  await page.getByRole('link', { name: 'Sedge 1 (QL-27-04401)' }).click()
  await expect(page.getByText(/^Retired since/).first()).toBeVisible()
  await expect(page.getByText('A dead row.').first()).toBeVisible()
  await expect(page.getByRole('button', { name: 'Start full run' })).toHaveCount(0)

  await goTo(page, 'Register')
  await page.getByRole('link', { name: 'Inventory' }).click()
  const choose = (text: string) =>
    page
      .getByLabel('Inventory file')
      .setInputFiles({ name: 'list.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await choose('serial,days between checks\nOS-24-90001,0\n')
  await expect(page.getByText('1 that cannot be taken')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Take 0 lines in' })).toBeDisabled()
  await choose('serial,days between checks\nOS-24-90001,9\n')
  await expect(page.getByText('days between checks: 28 → 9')).toBeVisible()
  await page.getByRole('button', { name: 'Take one line in' }).click()
  await expect(page.getByText('One line was taken in.')).toBeVisible()
  await page.getByRole('link', { name: 'Register' }).first().click()
  await page.getByRole('link', { name: 'Models' }).click()
  await expect(page.getByRole('heading', { name: 'Models', exact: true, level: 1 })).toBeVisible()
  await expect(page.getByRole('row', { name: /Ostrel Reed 24/ })).toContainText('9 days')
})

test('a verdict is followed to its raw readings on one page', async ({ page, demo }) => {
  await signIn(page, demo, 'viewer')
  await goTo(page, 'Review')
  await page
    .getByRole('row', { name: /Sedge 2/ })
    .first()
    .click()
  await page.getByRole('button', { name: 'Evidence' }).click()
  await expect(page.getByRole('heading', { name: /What the verdict rests on: Sedge 2/ })).toBeVisible()
  await expect(page.getByText('Colorimeter C3 TC-').first()).toBeVisible()
  await expect(page.getByRole('row', { name: /firmware then/ })).toContainText('3.1')
  await expect(page.getByRole('region', { name: 'Raw readings' }).getByRole('row').nth(5)).toBeVisible()
})

/** RFC 6238 of a base32 secret at this moment. */
function totp(secret: string): string {
  const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'
  const bits = [...secret].map((c) => letters.indexOf(c).toString(2).padStart(5, '0')).join('')
  const counter = Buffer.alloc(8)
  counter.writeBigUInt64BE(BigInt(Math.floor(Date.now() / 30_000)))
  const mac = createHmac('sha1', Buffer.from(bits.match(/.{8}/g)!.map((b) => parseInt(b, 2))))
    .update(counter)
    .digest()
  return String((mac.readUInt32BE(mac[19] & 15) & 0x7fffffff) % 1e6).padStart(6, '0')
}

test('a second factor is set up when the studio asks for it, and lets in by figures and by a recovery code @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await goTo(page, 'People')
  await page.getByRole('combobox', { name: 'Who must have a second factor' }).click()
  await page.getByTitle('Second factor: administrators must').click()
  await expect(page.getByText('This studio asks for a second factor.')).toBeVisible()
  await page.getByRole('button', { name: 'Set up a second factor' }).click()
  const secret = (await page.locator('.factor code').innerText()).replace(/\s/g, '')
  await page.getByLabel('Six figures that it shows').fill(totp(secret))
  await page.getByRole('button', { name: 'Put it in force' }).click()
  const code = await page.locator('.factor .codes li').first().innerText()
  await page.getByRole('button', { name: 'I have kept them' }).click()
  await expect(page.getByRole('heading', { name: 'People' })).toBeVisible()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await page.getByLabel('Login').fill('marit')
  await page.getByLabel('Password').fill('sedge-and-lantern')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.getByLabel('Code of the second factor').fill('000000')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText(/This code is not right/)).toBeVisible()
  await page.getByLabel('Code of the second factor').fill(code)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('navigation', { name: 'Areas' })).toBeVisible()
  await page.goto(`${demo.url}/account`)
  await page.getByRole('link', { name: 'What programs can ask for' }).click()
  await page.getByRole('textbox', { name: 'Find a route' }).fill('replace')
  await expect(page.locator('details')).toHaveCount(1)
  await page.getByText('/displays/{id}/replace').click()
  await expect(page.getByText('"QL-27-09998"')).toBeVisible()
})
