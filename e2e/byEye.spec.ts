import type { InstrumentOffsetTold, PeerSetDetail } from '@bichroma/contract'
import { expect, goTo, signIn, test } from './studio'

test.use({ place: 'byEye' })

test('two members are matched by eye: three repetitions, kept, told on the set and in the aim @long', async ({
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

test('what a ring tells of an instrument is weighed, taken into account and put away @long', async ({ page, demo }) => {
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
