/** @jest-environment ./tests/browserEnvironment.cjs */
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import { FindInput } from './FindInput'

const onFind = jest.fn()
const field = (value: string) => <FindInput label="Find" placeholder="" value={value} onFind={onFind} />
const input = () => screen.getByRole('textbox', { name: 'Find' }) as HTMLInputElement
const type = (text: string) => fireEvent.change(input(), { target: { value: text } })
const rest = () => act(() => jest.advanceTimersByTime(1000))

beforeEach(() => {
  jest.useFakeTimers()
  jest.clearAllMocks()
})
afterEach(() => {
  cleanup()
  jest.useRealTimers()
})

test('asks once the typing rests, and not for every key', () => {
  render(field(''))
  for (const text of ['s', 'se', 'sed']) type(text)
  expect(onFind).not.toHaveBeenCalled()
  rest()
  expect(onFind.mock.calls).toEqual([['sed']])
})

test('what is typed while the answer is on its way stays', () => {
  const { rerender } = render(field(''))
  type('sed')
  rest()
  type('sedge')
  rerender(field('sed'))
  expect(input().value).toBe('sedge')
  rest()
  expect(onFind).toHaveBeenLastCalledWith('sedge')
})

test('whoever leaves the field is asked for at once, and not once more', () => {
  render(field(''))
  type('dome')
  fireEvent.blur(input())
  expect(onFind.mock.calls).toEqual([['dome']])
  rest()
  expect(onFind).toHaveBeenCalledTimes(1)
})

test('going back, or a link, puts other words in, and asks for nothing by itself', () => {
  const { rerender } = render(field('dome'))
  expect(input().value).toBe('dome')
  rerender(field(''))
  expect(input().value).toBe('')
  rest()
  expect(onFind).not.toHaveBeenCalled()
})
