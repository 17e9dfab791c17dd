import { useEffect, useState } from 'react'
import type { Metrics } from '@bichroma/core/aims'
import type { Characterization } from '@bichroma/core/characterization'
import type { PatchReading } from '@bichroma/core/color'

/** What the worker answers: the display as its readings describe it, or what they lack. */
export type CharacterizationAnswer = { characterization: Characterization } | { problem: string }

/** Fits a display's characterization to what a run read, in a worker. Both null while it is at work, or without metrics. */
export function useCharacterization(metrics: Metrics | null): {
  characterization: Characterization | null
  problem: string | null
} {
  const [state, setState] = useState<{ of: Metrics | null; answer: CharacterizationAnswer | null }>({
    of: null,
    answer: null,
  })
  useEffect(() => {
    if (!metrics) return
    const worker = new Worker(new URL('./characterizationWorker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<CharacterizationAnswer>) => setState({ of: metrics, answer: data })
    worker.postMessage(metrics.patches.map(({ name, rgb, xyz }): PatchReading => ({ name, rgb, xyz })))
    return () => worker.terminate()
  }, [metrics])
  const answer = state.of === metrics ? state.answer : null
  return {
    characterization: answer && 'characterization' in answer ? answer.characterization : null,
    problem: answer && 'problem' in answer ? answer.problem : null,
  }
}
