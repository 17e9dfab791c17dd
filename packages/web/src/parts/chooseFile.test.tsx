/** @jest-environment ./tests/browserEnvironment.cjs */
import { cleanup, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { ApiProblem } from '../api/client'
import { ChooseFile } from './ChooseFile'
import { showInApp } from './showInApp'

const user = userEvent.setup({ pointerEventsCheck: 0, delay: null })
const problem = new ApiProblem({ type: 'x', title: 'x', status: 400, detail: 'Line 3 holds no reading.' })
const file = (size = 3) => {
  const made = new File(['abc'], 'reeds.csv', { type: 'text/csv' })
  Object.defineProperty(made, 'size', { value: size })
  return made
}
const begin = (onChoose: (file: File) => void | Promise<void>, most?: number) => {
  showInApp(
    <ChooseFile label="List" accept=".csv" most={most} onChoose={onChoose}>
      Choose…
    </ChooseFile>,
  )
  return (chosen: File) => user.upload(screen.getByLabelText('List'), chosen)
}
afterEach(cleanup)

test('the same file chosen twice is told twice', async () => {
  const chosen = jest.fn()
  const choose = begin(chosen)
  await choose(file())
  await choose(file())
  expect(chosen.mock.calls.map(([f]: [File]) => f.name)).toEqual(['reeds.csv', 'reeds.csv'])
})

test.each<[string, () => void | Promise<void>, string]>([
  [
    'that a browser cannot read',
    () => Promise.reject(new DOMException('x', 'NotReadableError')),
    'reeds.csv cannot be read by this browser.',
  ],
  [
    'at which what takes it breaks',
    () => {
      throw new Error('x')
    },
    'reeds.csv cannot be read by this browser.',
  ],
  ['that the server refuses', () => Promise.reject(problem), 'Line 3 holds no reading.'],
])('a file %s is told, and nothing is left unanswered', async (_, onChoose, says) => {
  const lost = jest.fn()
  process.on('unhandledRejection', lost)
  await begin(onChoose)(file())
  expect(await screen.findByText(says)).toBeTruthy()
  await new Promise((done) => setTimeout(done, 0))
  expect(lost).not.toHaveBeenCalled()
  process.off('unhandledRejection', lost)
})

test.each([
  [4_000_000, 4_000_000, null],
  [4_000_001, 4_000_000, 'reeds.csv is larger than 4 MB.'],
  [1_234_000_000, undefined, 'reeds.csv is larger than 32 MB.'],
])('of %d bytes where %p are the most', async (size, most, says) => {
  const chosen = jest.fn()
  await begin(chosen, most)(file(size))
  if (says) expect(await screen.findByText(says)).toBeTruthy()
  await waitFor(() => expect(chosen).toHaveBeenCalledTimes(says ? 0 : 1))
})
