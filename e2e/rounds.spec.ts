import type { Page } from '@playwright/test'
import type { Week } from '@bichroma/contract'
import { expect, goTo, signIn, test, type Demo } from './studio'

test.use({ place: 'rounds' })

/** The week as the page's own session has it. */
const weekOf = async (page: Page, demo: Demo): Promise<Week> =>
  (await (await page.request.get(`${demo.url}/api/rounds/week`)).json()) as Week
/** What lies ahead, the soonest first. */
const ahead = async (page: Page, demo: Demo) => (await weekOf(page, demo)).visits.filter((v) => v.state === 'planned')

test('the week: every visit says why it is then; one is moved by keys, stays there, and is let go @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await goTo(page, 'Rounds')
  await page.getByRole('link', { name: 'Week', exact: true }).click()
  await expect(page.getByRole('heading', { name: /visits planned/ })).toBeVisible()
  await page.getByRole('button', { name: 'Plan anew' }).click()
  await expect(page.getByRole('button', { name: 'Plan anew' })).not.toHaveClass(/loading/)
  const week = await weekOf(page, demo)
  const visits = week.visits.filter((v) => v.state === 'planned')
  // The last of its day has time after it.
  const visit = visits[visits.length - 1]
  await page.goto(`${demo.url}/rounds/week?day=${new Date(visit.at!).toISOString().slice(0, 10)}`)
  const bar = page.getByRole('button', { name: new RegExp(`^${visit.display.name}, `) })
  await bar.focus()
  const plane = page.locator('section.plane').filter({ hasText: 'Told' })
  await expect(plane.getByRole('link', { name: visit.display.name })).toBeVisible()
  await expect(
    plane.getByText(/Together with|The first time that suits|As people were told|Nothing sooner/),
  ).toBeVisible()
  await page.keyboard.press('Space')
  await page.keyboard.press('ArrowLeft')
  await expect(page.locator('.movewords')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.locator('.movewords')).toHaveCount(0)
  expect((await ahead(page, demo)).find((v) => v.id === visit.id)!.at).toBe(visit.at)

  // By words: what stands against a move is said at once.
  await plane.getByRole('button', { name: 'Move visit…' }).click()
  const form = page.getByRole('dialog')
  await expect(form.getByRole('status')).toBeVisible()
  await form.getByLabel('Time', { exact: true }).fill('03:00')
  await page.keyboard.press('Enter')
  await expect(form.getByRole('status')).toContainText('may not be used then')
  await expect(form.getByRole('button', { name: 'Move visit' })).toBeDisabled()
  await form.getByRole('button', { name: 'Cancel' }).click()

  // A little later or earlier, as the day on which this runs has room for it.
  let moved = false
  for (const minutes of [5, -5, 15, -15, 30, -30, 60, -60]) {
    const at = visit.at! + minutes * 60_000
    const data = { personId: visit.personId, instrumentId: visit.instrumentId, at }
    moved = (await page.request.put(`${demo.url}/api/visits/${visit.id}`, { data })).ok()
    if (moved) break
  }
  expect(moved).toBe(true)
  await expect(plane.getByText('Pinned there.')).toBeVisible()
  await plane.getByRole('button', { name: 'Let it go' }).click()
  await expect(plane.getByText('Pinned there.')).toHaveCount(0)
})

test('the tour on a phone: what is tapped without a connection is sent when it is back, and its run closes the visit', async ({
  page,
  context,
  demo,
}) => {
  await signIn(page, demo)
  const [visit] = await ahead(page, demo)
  const workstation = visit.display.workstation
  const instrument = (await weekOf(page, demo)).instruments.find((i) => i.id === visit.instrumentId)!
  await demo.fault('carry', { instrument: instrument.name.split(' ').pop(), workstation })
  await page.setViewportSize({ width: 390, height: 844 })
  const date = new Date(visit.at!).toISOString().slice(0, 10)
  await page.goto(`${demo.url}/rounds/tour?person=${visit.personId}&date=${date}`)
  const desk = page.getByRole('region', { name: 'This desk' })
  await expect(desk.getByRole('heading', { name: visit.display.name })).toBeVisible()
  await expect(desk.getByText(instrument.name)).toBeVisible()
  await context.setOffline(true)
  await desk.getByRole('button', { name: /^Start/ }).click()
  await expect(page.getByText('One tap waits for the server.')).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByText('One tap waits for the server.')).toHaveCount(0, { timeout: 20_000 })
  await expect
    .poll(async () => (await weekOf(page, demo)).visits.find((v) => v.id === visit.id)?.runId ?? null)
    .not.toBeNull()

  // Another desk: not possible, with a reason, by thumb.
  const next = (await ahead(page, demo)).find((v) => v.personId === visit.personId)!
  await page.goto(
    `${demo.url}/rounds/tour?person=${next.personId}&date=${new Date(next.at!).toISOString().slice(0, 10)}`,
  )
  await expect(desk.getByRole('heading', { name: next.display.name })).toBeVisible()
  await desk.getByRole('button', { name: 'Not possible…' }).click()
  await desk.getByRole('button', { name: 'The room is locked' }).click()
  await expect.poll(async () => (await weekOf(page, demo)).visits.find((v) => v.id === next.id)?.state).toBe('blocked')
})

test('the page of a desk opens by the courier’s link, and what looks wrong there becomes a visit and is answered @long', async ({
  page,
  browser,
  demo,
}) => {
  await expect.poll(async () => (await demo.desks())['hall-01'].page).not.toBeNull()
  const artist = await (await browser.newContext()).newPage()
  await artist.goto(demo.url + (await demo.desks())['hall-01'].page)
  const display = artist.locator('section').filter({ hasText: 'Lantern 1' })
  await expect(
    display.getByText(/You can trust it for Dome P3|It cannot be told|Do not judge|Nobody knows/),
  ).toBeVisible()
  await expect(artist.getByRole('navigation')).toHaveCount(0)
  await display.getByRole('button', { name: 'This looks wrong…' }).click()
  await display.getByLabel('What looks wrong?').fill('The greys look green')
  await display.getByRole('button', { name: 'Say so' }).click()
  await expect(display.getByText('Somebody will look at it.')).toBeVisible()

  await signIn(page, demo)
  await page.goto(`${demo.url}/rounds/week`)
  const reports = page.locator('section.plane').filter({ hasText: 'Looks wrong to somebody' })
  await expect(reports.getByText('The greys look green')).toBeVisible()
  await expect
    .poll(async () => {
      const told = await (await page.request.get(`${demo.url}/api/rounds/unplanned`)).json()
      const all = [...(await weekOf(page, demo)).visits, ...(told as { items: Week['visits'] }).items]
      return all.find((v) => v.display.name === 'Lantern 1' && v.state !== 'done')?.dueBy
    })
    // What was outside when it was last read is due for that already.
    .toMatch(/^(asked|outside)$/)
  await reports.getByLabel('Answer at the desk').fill('Tobin comes this afternoon.')
  await reports.getByRole('button', { name: 'Answer' }).click()
  await artist.reload()
  await expect(artist.getByText('Tobin comes this afternoon.')).toBeVisible()
})

test('hours, people and ways are changed in words, a calendar is given and ended, and how well it is kept is told @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await page.goto(`${demo.url}/rounds/house`)
  await page
    .getByRole('row', { name: /Tobin Asare/ })
    .getByRole('button', { name: 'Change' })
    .click()
  const form = page.getByRole('dialog')
  await form.getByRole('button', { name: 'Add days away' }).click()
  await form.getByLabel('Away 1, first day').fill('2031-03-05')
  await form.getByLabel('Away 1, last day').fill('2031-03-02')
  await form.getByRole('button', { name: 'Save person' }).click()
  await expect(form.getByRole('alert')).toContainText('must not end before it begins')
  await form.getByLabel('Away 1, last day').fill('2031-03-09')
  await form.getByRole('button', { name: 'Save person' }).click()
  await expect(page.getByRole('row', { name: /Tobin Asare.*2031-03-05/ })).toBeVisible()

  await page.getByRole('combobox', { name: 'Calendar of' }).click()
  await page.getByTitle('Sunniva Quist').click()
  await page.getByRole('button', { name: 'Make a link' }).click()
  const link = await page.getByText(/\/api\/feeds\//).textContent()
  expect(await (await page.request.get(link!.trim())).text()).toMatch(/^BEGIN:VCALENDAR/)
  await page.getByRole('button', { name: 'I have it' }).click()
  await page.getByRole('button', { name: 'End link' }).click()
  await expect(page.getByRole('button', { name: 'End link' })).toHaveCount(0)
  expect((await page.request.get(link!.trim())).status()).toBe(404)

  await page.goto(`${demo.url}/rounds/rules`)
  await page.getByRole('button', { name: 'Add a rule' }).click()
  await page.getByRole('combobox', { name: 'room' }).click()
  await page.getByTitle('Sedge Room').click()
  await page.getByRole('button', { name: 'Save rule' }).click()
  await expect(page.getByRole('row', { name: /room Sedge Room.*30/ })).toBeVisible()
  await expect(page.getByText('Opening of the planetarium loop')).toBeVisible()

  await goTo(page, 'Floor')
  await page.getByRole('link', { name: 'how well they are kept' }).click()
  await expect(page.getByRole('heading', { name: /of display-days were proven within limits/ })).toBeVisible()
  await expect(page.getByRole('row', { name: /Sedge Room/ })).toBeVisible()
})
