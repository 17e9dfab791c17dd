import { expect, goTo, signIn, test } from './studio'

test.use({ place: 'register' })

test('a display is added, and what is wrong with it is told at its field', async ({ page, demo }) => {
  await signIn(page, demo)
  await goTo(page, 'Register')
  await page.getByRole('button', { name: 'Add display' }).click()
  const dialog = page.getByRole('dialog', { name: 'Add a display' })
  await dialog.getByRole('button', { name: 'Add display' }).click()
  await expect(dialog.getByText('“Name” is missing; it is needed.')).toBeVisible()
  await expect(dialog.getByText('“Limits” is missing; it is needed.')).toBeVisible()
  await dialog.getByLabel('Name in the studio').fill('Herbarium 1')
  const choose = async (field: string, option: string) => {
    await dialog.getByRole('combobox', { name: field }).click()
    await page.getByTitle(option, { exact: true }).last().click()
  }
  // Of twenty workstations not all are in the list at once: it is searched.
  await dialog.getByRole('combobox', { name: 'Workstation' }).fill('sedge-02')
  await page.getByTitle('sedge-02', { exact: true }).last().click()
  await dialog.getByLabel('Maker').fill('Ostrel')
  await dialog.getByLabel('Model').fill('Reed 24')
  await dialog.getByLabel('Serial number').fill('QL-27-04418')
  await dialog.getByLabel('Firmware').fill('1.9')
  await choose('Panel', 'quantum dot')
  await choose('Limits', 'Everyday')
  await dialog.getByLabel('Slots').fill('20')
  await dialog.getByRole('button', { name: 'Add display' }).click()
  await expect(dialog.getByText('“Slots” must be 8 or less.')).toBeVisible()
  await dialog.getByLabel('Slots').fill('2')
  await dialog.getByRole('button', { name: 'Add display' }).click()
  await expect(dialog.getByText('Another display has this serial number already. Choose another.')).toBeVisible()
  await dialog.getByLabel('Serial number').fill('OS-24-77001')
  await dialog.getByRole('button', { name: 'Add display' }).click()
  await expect(dialog).toHaveCount(0)
  await expect(page.getByRole('row', { name: /Herbarium 1/ })).toContainText('unproven')
  await goTo(page, 'Floor')
  await expect(page.getByRole('heading', { name: /of 35 screens/ })).toBeVisible()
  await expect(page.getByRole('link', { name: /Herbarium 1 unproven never read/ })).toBeVisible()
})

test('the care of a display: more days between checks move its due line', async ({ page, demo }) => {
  await signIn(page, demo)
  await page.goto(`${demo.url}/register/4`)
  await expect(page.getByRole('heading', { name: /Sedge 4.*lapsed/ })).toBeVisible()
  await page.getByLabel('Days between checks').fill('0')
  await page.getByRole('button', { name: 'Save care' }).click()
  await expect(page.getByText('“Days between checks” must be 1 or more.')).toBeVisible()
  await page.getByLabel('Days between checks').fill('60')
  await page.getByRole('button', { name: 'Save care' }).click()
  await expect(page.getByRole('heading', { name: /Sedge 4.*within/ })).toBeVisible()
})

test('the cover closed in the middle of a run: the sheet asks for hands, and “Go on” goes on @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'technician')
  await page.goto(`${demo.url}/runs/new?display=2&kind=full&slot=3`)
  await page.getByRole('button', { name: 'Start full run into slot 3' }).click()
  await expect(page.locator('.stage.now')).toContainText('Shape', { timeout: 120_000 })
  await demo.fault('cover', { instrument: 'TC-0417', on: true })
  await expect(page.getByRole('alert')).toContainText('The instrument’s cover is closed.')
  await expect(page.locator('.pulse')).toContainText('waits for you')
  await goTo(page, 'Register')
  await page.getByRole('row', { name: /^Sedge 2/ }).click()
  await page.getByRole('button', { name: 'Open the run' }).click()
  await demo.fault('cover', { instrument: 'TC-0417', on: false })
  await page.getByRole('button', { name: 'Go on' }).click()
  await expect(page.getByRole('button', { name: 'Open review' })).toBeVisible({ timeout: 180_000 })
})

test('a run on a display whose courier is away says what to switch on @long', async ({ page, demo }) => {
  await signIn(page, demo, 'technician')
  await page.goto(`${demo.url}/runs/new?display=1&kind=check`)
  await expect(page.getByText('away: start it first')).toBeVisible()
  await page.getByRole('button', { name: /Start check run/ }).click()
  await expect(page.getByRole('alert')).toContainText('Switch sedge-01 on and start its courier.')
})

test('limits: a rule is taken out and put in, and the list tells of it @long', async ({ page, demo }) => {
  await signIn(page, demo)
  await page.goto(`${demo.url}/aims/limits`)
  await page.getByRole('button', { name: 'Add limits' }).click()
  await expect(page.getByRole('heading', { name: 'New limits' })).toBeVisible()
  await page.getByLabel('Name').fill('Projection')
  await page.getByRole('button', { name: 'Remove this rule' }).last().click()
  await page.getByRole('button', { name: 'Add limits' }).last().click()
  const listed = page.getByRole('button', { name: /^Projection/ })
  await expect(listed).toHaveAttribute('aria-current', 'true')
  await expect(listed).not.toContainText('Luminance off aim')
  await page.getByRole('button', { name: 'Add rule' }).click()
  await page.getByRole('button', { name: 'Save limits' }).click()
  await expect(listed).toContainText('Luminance off aim ≤ 1.0 %, at most 2.0 %')
  await page.getByRole('button', { name: 'Delete limits' }).click()
  await page.getByRole('button', { name: 'Delete limits' }).last().click()
  await expect(listed).toHaveCount(0)
})

test('a room’s light, watched: its day and weeks, another level agreed on, the watch ended and begun, and the desks told @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await goTo(page, 'Register')
  await page.getByRole('link', { name: 'Diorama Shop' }).click()
  await expect(page.getByRole('heading', { name: /^Diorama Shop: / })).toBeVisible()
  await expect(page.getByText(/\d+ readings; shaded: as it is wanted/)).toBeVisible()
  await expect(page.getByRole('region', { name: 'Light by weekday and hour' })).toBeVisible()
  // What only hours are kept of is told so.
  const old = new Date(Date.now() - 35 * 86_400_000).toISOString().slice(0, 10)
  await page.goto(`${page.url().split('?')[0]}?date=${old}`)
  await expect(page.getByText('one point an hour: readings are kept for a month')).toBeVisible()
  await page.getByRole('button', { name: /^Agree on \d+ lx/ }).click()
  await expect(page.getByText(/^should be \d+/).first()).toBeVisible()
  await expect(page.getByRole('button', { name: /^Agree on/ })).toHaveCount(0)

  const watched = page.locator('section.plane').filter({ has: page.getByRole('heading', { name: 'Watched' }) })
  await watched.getByRole('button', { name: 'End the watch' }).click()
  await expect(watched.getByText('by nothing')).toBeVisible()
  await demo.fault('diffuser', { instrument: 'TC-0119', on: false })
  await watched.getByRole('combobox', { name: 'Instrument' }).click()
  await page.getByTitle(/TC-0119/).click()
  await watched.getByRole('button', { name: 'Leave it here' }).click()
  await expect(watched.getByText(/reads the room only through its diffuser/)).toBeVisible()

  // A wrong number is told at its field, and nothing is stored.
  await page.getByLabel('May be out for, minutes').fill('-5')
  await page.getByRole('button', { name: 'Save room' }).click()
  await expect(page.getByText(/“Minutes allowed” must/)).toBeVisible()
  await page.getByLabel('May be out for, minutes').fill('0')
  await page.getByLabel('To, lx').first().fill('260')
  await page.getByRole('button', { name: 'Save room' }).click()
  await expect(page.getByText(/“Minutes allowed” must/)).toHaveCount(0)
  // What the new band says of the light may push the button away under a press.
  await expect(async () => {
    const end = watched.getByRole('button', { name: 'End the watch' })
    if (await end.isVisible()) await end.click({ timeout: 2000 })
    await expect(watched.getByText('by nothing')).toBeVisible({ timeout: 3000 })
  }).toPass()
  await demo.fault('diffuser', { instrument: 'TC-0119', on: true })
  await watched.getByRole('combobox', { name: 'Instrument' }).click()
  await page.getByTitle(/TC-0119/).click()
  await watched.getByRole('button', { name: 'Leave it here' }).click()
  await expect(watched.getByText(/The desks are told, and runs that need the light wait/)).toBeVisible()
  await expect
    .poll(async () => JSON.stringify((await demo.desks())['diorama-03'].messages))
    .toContain('The light of Diorama Shop is not as it is wanted')
  await page.goto(`${demo.url}/runs/new?display=22`)
  await expect(page.getByText(/The light of Diorama Shop is out of what is wanted/)).toBeVisible()
})
