import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'

const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })

/** What hands do with forms in tests: each thing by the words that a person reads. */
export const hands = {
  press: (name: string | RegExp) => user.click(screen.getByRole('button', { name })),
  /** Presses what reads so in the row in which a text stands. */
  async pressInRow(text: string, name: string | RegExp) {
    const row = (await screen.findByText(text)).closest('tr')!
    await user.click(within(row).getByRole('button', { name }))
  },
  tick: (name: string | RegExp) => user.click(screen.getByRole('checkbox', { name })),
  /** Opens a list and takes what reads so. */
  async choose(label: string, option: string | RegExp) {
    await user.click(await screen.findByLabelText(label))
    await user.click((await screen.findAllByText(option)).at(-1)!)
  },
  /** Writes in place of what stands there. */
  async write(label: string, text: string) {
    const field = await screen.findByLabelText(label)
    await user.clear(field)
    if (text) await user.type(field, text)
  },
}
