import { expect, goTo, signIn, test } from './studio'

test.use({ place: 'rollout' })

test('a wave: preview, the first few, the rest by a word, and everything given back', async ({ page, demo }) => {
  await signIn(page, demo)
  await goTo(page, 'Rollout')
  await expect(page.getByText(/^Not yet: \d+ of 34 displays differ/)).toBeVisible()
  const table = page.getByRole('table', { name: 'Rollout' })
  // Marked by the keyboard: down to it, and the space key.
  await page.getByRole('combobox', { name: 'Room' }).click()
  await page.getByTitle('Plate Room', { exact: true }).click()
  await expect(table.getByRole('row')).toHaveCount(7)
  const marks = ['Plate 1', 'Plate 2', 'Plate 5']
  await table.getByRole('row', { name: /Plate 1/ }).focus()
  for (const [i, steps] of [0, 1, 3].entries()) {
    for (let n = 0; n < steps; n++) await page.keyboard.press('ArrowDown')
    await page.keyboard.press(' ')
    await expect(table.getByRole('checkbox', { name: `Mark ${marks[i]}` })).toBeChecked()
  }
  await page.getByRole('button', { name: 'Prepare a wave for 3 displays' }).click()

  await expect(page.getByText('3 displays get what is wanted.')).toBeVisible()
  await expect(page.getByRole('row', { name: /Plate 5.*a sign-out/ })).toBeVisible()
  await page.getByLabel('First few').fill('1')
  await page.getByRole('combobox', { name: 'The rest goes once' }).click()
  await page.getByTitle('they were read back and somebody says so').click()
  await page.getByLabel('Name').fill('')
  await page.getByRole('button', { name: 'Start wave with 3 displays' }).click()
  await expect(page.getByText('“Name” is missing; it is needed.')).toBeVisible()
  await page.getByLabel('Name').fill('Plates')
  await page.getByRole('button', { name: 'Start wave with 3 displays' }).click()

  await expect(page.getByRole('heading', { name: /Plates under way/ })).toBeVisible()
  await expect(page.getByText('The rest waits for somebody’s word.')).toBeVisible()
  const displays = page.getByRole('table')
  await expect(displays.getByRole('row', { name: /held back/ })).toHaveCount(2)
  await page.getByRole('button', { name: 'Let the rest go' }).click()
  await expect(page.getByRole('heading', { name: /Plates done/ })).toBeVisible()
  await expect(page.getByRole('img', { name: '3 there' })).toBeVisible()

  await page.getByRole('button', { name: 'Undo wave' }).click()
  await page.getByRole('button', { name: 'Undo it' }).click()
  await expect(page.getByRole('heading', { name: /Plates undone/ })).toBeVisible()
  await expect(page.getByRole('img', { name: '3 given back' })).toBeVisible()
  await goTo(page, 'Rollout')
  await expect(page.getByRole('listitem').filter({ hasText: 'Plates' })).toContainText('3 of 3 given back')
})

test('a switch of slot is followed, and a profile that was replaced is put back and then left alone @long', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await page.goto(`${demo.url}/rollout/policies`)
  await page.getByRole('button', { name: 'Add policy' }).click()
  await page.getByText('a display', { exact: true }).click()
  await page.getByRole('combobox', { name: 'Display' }).fill('Sedge 3')
  await page.getByTitle(/^Sedge 3,/).click()
  await page.getByRole('button', { name: 'Choose its rules' }).click()
  const rules = page.getByRole('dialog', { name: 'Rules of display Sedge 3' })
  const choose = async (rule: string, answer: string) => {
    await rules.getByRole('combobox', { name: rule }).click()
    await page.getByTitle(answer, { exact: true }).last().click()
  }
  await choose('When somebody switches the slot', 'follow with that slot’s profile')
  await choose('When something else is found', 'put ours back, up to three times an hour')
  await rules.getByRole('button', { name: 'Save policy' }).click()
  await expect(page.getByRole('heading', { name: 'Display Sedge 3' })).toBeVisible()

  const { workstations } = await demo.state()
  const at = workstations.find((w) => w.name === 'sedge-03')!
  const display = at.displays[0].serial
  await goTo(page, 'Rollout')
  const row = page.getByRole('row', { name: /Sedge 3/ })
  await demo.fault('buttons', { display, slot: 2 })
  await expect(row).toContainText('Atlas print, slot 2')
  await expect(row).toContainText('in force')
  await row.click()
  await expect(page.getByText('follow with that slot’s profile')).toHaveCount(1)

  for (let n = 0; n < 4; n++) {
    await demo.fault('replaceProfile', { workstation: 'sedge-03', display, by: 'Glint Arcade' })
    if (n < 3) {
      await expect
        .poll(async () => {
          const told = await page.evaluate(async () => (await fetch('/api/rollout?search=Sedge 3')).json())
          const { placement } = (told as { items: { placement: { putBacks: number[]; state: string } }[] }).items[0]
          return `${placement.putBacks.length} ${placement.state}`
        })
        .toBe(`${n + 1} in force`)
    }
  }
  await expect(row).toContainText('overridden')
  await expect(page.getByText(/keeps replacing it, so it is left alone/)).toBeVisible()
  await page.getByRole('button', { name: 'Place it again' }).click()
  await expect(row).toContainText('in force')
})

test('where no courier runs: files to take along, and what was printed there is read back by hand', async ({
  page,
  demo,
}) => {
  await signIn(page, demo)
  await goTo(page, 'Rollout')
  await page.getByRole('button', { name: 'Read back by hand…' }).click()
  const dialog = page.getByRole('dialog', { name: 'Read back by hand' })
  const download = page.waitForEvent('download')
  await dialog.getByRole('button', { name: 'Fetch scripts that look (ZIP)' }).click()
  expect((await download).suggestedFilename()).toMatch(/^rollout-look-\d{4}-\d\d-\d\d\.zip$/)
  const say = (text: string) => dialog.getByLabel('What the script printed', { exact: true }).fill(text)
  await say('Access denied.')
  await dialog.getByRole('button', { name: 'Take it as found' }).click()
  await expect(dialog.getByRole('alert')).toContainText('There is no line “bichroma-found 1” in it.')
  await say('bichroma-found 1\nhost\tsedge-02\nend')
  await dialog.getByRole('button', { name: 'Take it as found' }).click()
  await expect(dialog.getByRole('alert')).toContainText('The courier on sedge-02 is connected')
  const { workstations } = await demo.state()
  const away = workstations.find((w) => !w.online)!
  await say(
    `bichroma-found 1\nhost\t${away.name}\ndisplay\t${away.displays[0].serial}\t/tmp/x.icc\t${'a'.repeat(64)}\nend`,
  )
  await dialog.getByRole('button', { name: 'Take it as found' }).click()
  await expect(dialog.getByRole('status')).toContainText(`${away.name}: one display read back`)
  await dialog.getByRole('button', { name: 'Close' }).last().click()
  await page.getByLabel('Find a display').fill(away.name)
  await page.getByRole('row').nth(1).click()
  await expect(page.getByText(/told by hand/).first()).toBeVisible()
})
