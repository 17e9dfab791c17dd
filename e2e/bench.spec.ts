import { expect, signIn, test } from './studio'

// Slow enough for a person to knock the instrument while a brief run shapes.
test.use({ place: 'bench', pace: '25' })

test('the bench panel: a person knocks the instrument there, and the run sheet asks for hands here @long', async ({
  page,
  demo,
  context,
}) => {
  const hands = await context.newPage()
  await hands.goto(demo.panel)
  await expect(hands.getByText('Not part of Bichroma')).toBeVisible()
  await expect(hands.getByRole('row', { name: /sedge-02.*QL-27-04418/ })).toContainText('online')
  const form = (name: string) => hands.locator(`form[data-fault="${name}"]`)

  await signIn(page, demo, 'technician')
  await page.goto(`${demo.url}/runs/new?display=2&kind=full&slot=3`)
  await page.getByText('brief', { exact: true }).click()
  await page.getByRole('button', { name: 'Start full run into slot 3' }).click()
  await expect(page.locator('.stage.now')).toContainText('Shape', { timeout: 120_000 })
  await form('knock').getByLabel('instrument').selectOption('TC-0417')
  await form('knock').getByRole('button', { name: 'Do it' }).click()
  await expect(hands.getByRole('status')).toHaveText(/^knock done/)
  await expect(page.getByRole('alert')).toContainText('the instrument was knocked, or room light gets under it', {
    timeout: 120_000,
  })
  await form('seat').getByLabel('instrument').selectOption('TC-0417')
  for (const field of ['x', 'y', 'tilt']) await form('seat').getByLabel(field, { exact: true }).fill('0')
  await form('seat').getByRole('button', { name: 'Do it' }).click()
  await expect(hands.getByRole('status')).toHaveText(/^seat done/)
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByRole('button', { name: 'Open review' })).toBeVisible({ timeout: 180_000 })
})

test('what the bench cannot do it says in a sentence', async ({ page, demo }) => {
  await page.goto(demo.panel)
  const form = page.locator('form[data-fault="seat"]')
  await form.getByLabel('x', { exact: true }).fill('4')
  await form.getByRole('button', { name: 'Do it' }).click()
  await expect(page.getByRole('status')).toContainText('“x” must be 1 or less.')
  await page.locator('form[data-fault="shiftClock"]').getByRole('button', { name: 'Do it' }).click()
  await expect(page.getByRole('status')).toContainText('“minutes” is missing')
})
