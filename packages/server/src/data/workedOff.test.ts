import { WorkedOff } from './workedOff'

const pause = (ms = 0) => new Promise((resolve) => setTimeout(resolve, ms))

test('work that is asked for again is done one after another, and each who asked waits for its own', async () => {
  let [under, most, done] = [0, 0, 0]
  const work = new WorkedOff('It is done', async () => {
    under++
    most = Math.max(most, under)
    await pause(1)
    under--
    done++
  })
  await Promise.all([work.soon(), work.soon(), work.soon()])
  expect([most, done]).toEqual([1, 3])
  await work.close()
})

test('what fails is tried again by itself, and fails nobody who asked', async () => {
  const log = jest.spyOn(process.stdout, 'write').mockReturnValue(true)
  let tries = 0
  const twice = new Promise<void>((resolve) => {
    const work = new WorkedOff(
      'It fails once',
      async () => {
        await pause()
        if (++tries === 1) throw new Error('The disk is full.')
        resolve()
      },
      { againMs: 1 },
    )
    void work.soon()
  })
  await twice
  log.mockRestore()
  expect(tries).toBe(2)
})

test('closing waits for what is under way, and nothing is begun after it', async () => {
  let done = 0
  const work = new WorkedOff('It is done', async () => {
    await pause(2)
    done++
    work.later()
  })
  void work.soon()
  void work.soon()
  await pause()
  await work.close()
  expect(done).toBe(1)
  await work.soon()
  await pause(5)
  expect(done).toBe(1)
})

test('who asks in a moment is gathered: done once for all of them, again for those after, and not once it is closed', async () => {
  let done = 0
  let told: () => void
  const next = () => new Promise<void>((resolve) => (told = resolve))
  const work = new WorkedOff(
    'It is done',
    async () => {
      done++
      told()
    },
    { gatherMs: 1 },
  )
  for (const after of [1, 2]) {
    const seen = next()
    work.inAMoment()
    work.inAMoment()
    expect(done).toBe(after - 1)
    await seen
    expect(done).toBe(after)
  }
  work.inAMoment()
  await work.close()
  await pause(5)
  expect(done).toBe(2)
})
