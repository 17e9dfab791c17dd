import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'

const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })

/** What hands do with forms in tests: each thing by the words that a person reads. */
export const hands = {
  press: (name: string | RegExp) => user.click(screen.getByRole('button', { name })),
  pressThis: (element: Element) => user.click(element),
  /** Presses what reads so in the row in which a text stands. */
  async pressInRow(text: string, name: string | RegExp) {
    const row = (await screen.findByText(text)).closest('tr')!
    await user.click(within(row).getByRole('button', { name }))
  },
  tick: (name: string | RegExp) => user.click(screen.getByRole('checkbox', { name })),
  /** Takes one of several that stand side by side. */
  async take(of: string | null, option: string) {
    const among = of === null ? screen : within(await screen.findByLabelText(of))
    await user.click(among.getByText(option))
  },
  /** Opens a list and takes what reads so. */
  async choose(label: string, option: string | RegExp) {
    await user.click(await screen.findByRole('combobox', { name: label }))
    await user.click((await screen.findAllByText(option)).at(-1)!)
  },
  /** Writes in place of what stands there. */
  async write(label: string, text: string) {
    const field = await screen.findByLabelText(label)
    await user.clear(field)
    if (text) await user.type(field, text)
  },
}
