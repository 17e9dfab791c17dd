import type { DataSource } from 'typeorm'
import type { ReadsMore } from '@bichroma/core/register'
import type { RunKind } from '@bichroma/core/runs'
import type { CourierHub } from '../../couriers/hub'
import { chooseCorrection } from '../../register/corrections'
import type { DisplayRow, InstrumentRow } from '../../register/entities'
import { offsetTaken } from '../../register/instrumentOffsets'
import type { RunRow } from '../entities'

/**
 * What a run does to its instrument's readings: the correction that is known for the display, and what the instrument reads
 * more, where that is taken into account. A spot run tells what an instrument reads, and has nothing taken out.
 */
export async function asItReads(
  { data, hub }: { readonly data: DataSource; readonly hub: CourierHub },
  display: DisplayRow,
  instrument: InstrumentRow,
  kind: RunKind,
): Promise<Pick<RunRow, 'correction' | 'readsMore'>> {
  const correction = await chooseCorrection(data, display, instrument, hub)
  const madeAt = correction.kind === 'made' ? correction.madeAt : null
  const readsMore: ReadsMore | null = kind === 'spot' ? null : await offsetTaken(data, instrument, madeAt)
  return { correction, readsMore }
}
