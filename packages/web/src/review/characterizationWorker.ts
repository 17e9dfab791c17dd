import { characterize } from '@bichroma/core/characterization'
import type { PatchReading } from '@bichroma/core/color'
import type { CharacterizationAnswer } from './useCharacterization'

onmessage = ({ data }: MessageEvent<PatchReading[]>) => {
  let answer: CharacterizationAnswer
  try {
    answer = { characterization: characterize(data) }
  } catch (error) {
    answer = { problem: (error as Error).message }
  }
  postMessage(answer)
}
