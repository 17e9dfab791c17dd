import type { DataSource } from 'typeorm'
import type { InstrumentFacts } from '@bichroma/core/aims'
import { certificateDays } from '@bichroma/core/register'
import { correctionEntity, instrumentEntity, type InstrumentRow } from '../register/entities'
import type { RunRow } from './entities'
import { noiseOfInstrument } from './instrumentNoise'

const year = 365.25 * 86_400_000

/** Years between two instants; null where the first is not known, or lies after the second. */
const yearsFrom = (from: number | null, to: number) => (from === null || from > to ? null : (to - from) / year)

/** How old a certificate was at an instant, in years; one that was renewed since is taken to have run its term. */
const ageThen = (certifiedAt: number | null, then: number) =>
  certifiedAt !== null && certifiedAt > then ? certificateDays / 365 : yearsFrom(certifiedAt, then)

/**
 * What is known of an instrument and of what is done to its readings in a run. `contradicted`: the panel is not of the kind
 * that it is registered as. `panelKind`: what it is registered as. `now`: ms since 1970.
 */
export async function instrumentFacts(
  data: DataSource,
  { correction, displayId }: Pick<RunRow, 'correction' | 'displayId'>,
  instrument: InstrumentRow,
  { panelKind, contradicted, now }: { panelKind: string; contradicted: boolean; now: number },
): Promise<InstrumentFacts> {
  const noise = await noiseOfInstrument(data, instrument.id)
  const kind = instrument.kind === 'spectroradiometer' ? instrument.kind : 'colorimeter'
  const known = { kind, certificateAge: ageThen(instrument.certifiedAt, now), noise } as const
  if (kind === 'spectroradiometer') return { ...known, origin: 'none needed', made: null }
  if (correction?.kind === 'own')
    return { ...known, origin: contradicted || correction.panelKind !== panelKind ? 'other kind' : 'kind', made: null }
  if (correction?.kind !== 'made') return { ...known, origin: 'none', made: null }
  const row = await data.getRepository(correctionEntity).findOneBy({ id: correction.id })
  const reference = row && (await data.getRepository(instrumentEntity).findOneBy({ id: row.referenceId }))
  return {
    ...known,
    origin: row?.displayId === displayId ? 'this display' : 'same model',
    made: {
      residual: correction.residual,
      age: Math.max(0, (now - correction.madeAt) / year),
      referenceAge: reference && ageThen(reference.certifiedAt, correction.madeAt),
    },
  }
}
