/** @jest-environment ./tests/browserEnvironment.cjs */
import { ApiProblem } from '../api/client'
import { useTapped, type Tap } from './useTapped'

const problem = (status: number, detail = 'No.') => new ApiProblem({ type: '/problems/x', title: 'x', status, detail })
const { tap, send } = useTapped.getState()
const waiting = () => useTapped.getState().waiting.map((t) => t.visitId)
beforeEach(() => useTapped.setState({ waiting: [], refused: [] }))

describe('what is tapped on a tour', () => {
  it('is sent in order, once', async () => {
    const sent: Tap[] = []
    tap({ visitId: 1, does: 'begin' })
    tap({ visitId: 2, does: 'block', why: 'The room is locked' })
    const work = async (t: Tap) => void sent.push(t)
    expect(await Promise.all([send(work), send(work)])).toEqual([true, true])
    expect(sent).toEqual([
      { visitId: 1, does: 'begin' },
      { visitId: 2, does: 'block', why: 'The room is locked' },
    ])
    expect(waiting()).toEqual([])
  })

  it('waits while nobody answers, while nobody is signed in and while the server has a fault, and goes later', async () => {
    for (const status of [0, 401, 429, 503]) {
      tap({ visitId: 1, does: 'begin' })
      expect(await send(() => Promise.reject(problem(status)))).toBe(false)
      expect(waiting()).toEqual([1])
    }
    tap({ visitId: 2, does: 'begin' })
    expect(await send(async () => {})).toBe(true)
    expect(waiting()).toEqual([])
  })

  it('goes no further once it was refused, and says so; what comes after it is sent all the same', async () => {
    tap({ visitId: 1, does: 'begin' })
    tap({ visitId: 2, does: 'begin' })
    const sent: number[] = []
    await send(async ({ visitId }) => {
      sent.push(visitId)
      if (visitId === 1) throw problem(409, 'This visit is begun already.')
    })
    expect(sent).toEqual([1, 2])
    expect(waiting()).toEqual([])
    expect(useTapped.getState().refused).toEqual([{ visitId: 1, sentence: 'This visit is begun already.' }])
  })

  it('is one thing a visit: the last', () => {
    tap({ visitId: 1, does: 'begin' })
    tap({ visitId: 1, does: 'block', why: 'The room is locked' })
    expect(useTapped.getState().waiting).toHaveLength(1)
    expect(useTapped.getState().waiting[0].does).toBe('block')
  })
})
