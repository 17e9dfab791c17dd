import type { InstrumentOffsetTold, PeerSetDetail } from '@bichroma/contract'
import { expect, goTo, signIn, test } from './studio'

test.use({ place: 'peers' })

test('from making a set to its verdict: members, baselines, common ground, its aim, full runs of all', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await demo.fault('carry', { instrument: 'HS-0031', workstation: 'plate-01' })
  await goTo(page, 'Peer sets')
  await page.getByRole('button', { name: 'Add peer set' }).click()
  await page.getByRole('button', { name: 'Save set' }).click()
  await expect(page.getByText('“Name” is missing; it is needed.')).toBeVisible()
  await expect(page.getByText('A set has two members at least')).toBeVisible()
  await page.getByLabel('Name', { exact: true }).fill('Proof and plate')
  const option = (text: string) =>
    page.locator('.ant-select-dropdown:not(.ant-select-dropdown-hidden) .ant-select-item-option', { hasText: text })
  for (const [i, name] of ['Plate 1', 'Plate 2'].entries()) {
    await page.getByRole('button', { name: 'Add member' }).click()
    await page.getByRole('combobox', { name: `Member ${i + 1}`, exact: true }).fill(name)
    await option(`${name}, Plate Room`).click()
    await page.getByRole('combobox', { name: `Slot of member ${i + 1}` }).click()
    await option('slot 2').click()
  }
  await page.getByRole('button', { name: 'Save set' }).click()
  await expect(page.getByRole('heading', { name: /^Proof and plate/ })).toBeVisible()
  await expect(page.getByText(/Nobody knows how bright Plate 1 and Plate 2 can be/).first()).toBeVisible()
  const id = Number(page.url().split('/').pop())
  const now = async () => (await (await page.request.get(`${demo.url}/api/peer-sets/${id}`)).json()) as PeerSetDetail

  await page.getByRole('button', { name: 'Start runs of all' }).click()
  await page.getByRole('button', { name: 'Start 2 baselines' }).click()
  await expect(page.getByText('2 of 2 members')).toBeVisible()
  await page.getByRole('button', { name: 'Close' }).click()
  await expect(page.getByText('under way')).toBeVisible()
  await page.getByRole('button', { name: 'Adopt common ground' }).click({ timeout: 90_000 })
  await page.getByRole('button', { name: 'Adopt ground' }).click()
  await expect(page.getByRole('link', { name: 'Proof and plate, common ground' })).toBeVisible()
  await expect(page.getByText('No slot holds it yet')).toBeVisible()
  const { aim, standing } = await now()
  expect(aim!.aim.luminance).toBe(Math.floor(standing!.ground!.luminance))

  await page.getByRole('button', { name: 'Start runs of all' }).click()
  await page.getByRole('button', { name: 'Start 2 full runs' }).click()
  await expect(page.getByText('2 of 2 members')).toBeVisible()
  await expect.poll(async () => (await now()).looks[0].state, { timeout: 180_000, intervals: [1000] }).toBe('judged')
  const { looks } = await now()
  await expect(page.getByRole('table', { name: /Pairs of members/ })).toBeVisible()
  await expect(page.getByText('No slot holds it yet')).toHaveCount(0)
  // What the page says first is what the runs came to.
  expect(looks[0].furthest!.average).toBeLessThan(1)
  const pair = page.getByRole('button', { name: new RegExp(looks[0].furthest!.average.toFixed(2)) })
  await expect(pair).toHaveAttribute('aria-pressed', 'true')
  await expect(page.getByRole('heading', { name: 'Plate 2 beside Plate 1' })).toBeVisible()

  // It is in the list, and can be taken away again.
  await goTo(page, 'Peer sets')
  await page.getByRole('row', { name: /Proof and plate/ }).click()
  await page.getByRole('button', { name: 'Edit set' }).click()
  await page.getByRole('button', { name: 'Remove set' }).click()
  await page.getByRole('button', { name: 'Take it away' }).click()
  await expect(page.getByRole('row', { name: /Proofs, left and right/ })).toBeVisible()
  await expect(page.getByRole('row', { name: /Proof and plate/ })).toHaveCount(0)
})

test('two members are matched by eye: three repetitions, kept, told on the set and in the aim', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await goTo(page, 'Peer sets')
  await page.getByRole('row', { name: /Proofs, left and right/ }).click()
  await page.getByRole('button', { name: 'Match by eye' }).click()
  await page.getByRole('button', { name: 'Begin' }).click()
  await page.getByRole('button', { name: 'Show both whites' }).click()
  for (let repetition = 1; repetition <= 3; repetition++) {
    await expect(page.getByText(`repetition ${repetition} of 3`)).toBeVisible()
    // Back from the side that it begins on: above, then below on either hand.
    const back = [['Bluer'], ['Redder', 'Yellower'], ['Greener', 'Yellower']][repetition - 1]
    for (const word of back)
      for (let step = 0; step < 3; step++) {
        const sent = page.waitForResponse((r) => r.url().endsWith('/match'))
        await page.getByRole('button', { name: word }).click()
        expect((await sent).status()).toBe(200)
      }
    await page.getByRole('button', { name: 'They look alike' }).click()
  }
  await expect(page.getByText('3 repetitions')).toBeVisible()
  await page.getByRole('button', { name: 'Keep this match' }).click()
  await expect(page.getByText('Plate 2, by eye')).toBeVisible()
  const { items } = (await (await page.request.get(`${demo.url}/api/peer-sets?search=Proofs`)).json()) as {
    items: { id: number }[]
  }
  const set = (await (await page.request.get(`${demo.url}/api/peer-sets/${items[0].id}`)).json()) as PeerSetDetail
  expect(set.matches).toMatchObject([{ name: 'Plate 2', besideName: 'Plate 1', state: 'in force', by: 'Marit Oyen' }])
  expect(set.matches[0].repeats).toHaveLength(3)
  await page.getByRole('button', { name: 'Match by eye' }).click()
  await page.getByRole('button', { name: 'Take back' }).click()
  await page.getByRole('button', { name: 'Take it back' }).click()
  await expect(page.getByText('Plate 2 beside Plate 1, taken back')).toBeVisible()
})

test('what a ring tells of an instrument is weighed, taken into account and put away', async ({ page, demo }) => {
  await signIn(page, demo)
  await goTo(page, 'Peer sets')
  await page.getByRole('button', { name: 'Rings of instruments' }).click()
  await page.getByRole('button', { name: 'Weigh the offset of Colorimeter C3 TC-0522' }).click()
  await page.getByRole('button', { name: 'Weigh it' }).click()
  await expect(page.getByText('weighed, nothing has changed')).toBeVisible({ timeout: 60_000 })
  await page.getByRole('button', { name: 'Take into account' }).click()
  await page.getByRole('tooltip').getByRole('button', { name: 'Take into account' }).click()
  await expect(page.getByText(/taken into account by Marit Oyen/)).toBeVisible({ timeout: 60_000 })
  const offsets = (await (
    await page.request.get(`${demo.url}/api/instrument-offsets`)
  ).json()) as InstrumentOffsetTold[]
  expect(offsets[0].judged).toBe(offsets[0].runs)
  expect(offsets[0].runs).toBeGreaterThan(0)
  await page.getByRole('button', { name: 'Put away' }).click()
  await page.getByRole('button', { name: 'Put it away' }).click()
  await expect(page.getByText(/put away by Marit Oyen/)).toBeVisible({ timeout: 60_000 })
})
