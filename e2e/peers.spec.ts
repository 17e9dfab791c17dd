import type { PeerSetDetail } from '@bichroma/contract'
import { expect, goTo, signIn, test } from './studio'

test.use({ place: 'peers' })

test('from making a set to its verdict: members, baselines, common ground, its aim, full runs of all @long', async ({
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
