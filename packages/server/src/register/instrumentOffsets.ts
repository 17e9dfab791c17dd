import type { DataSource } from 'typeorm'
import type { ReadsMore } from '@bichroma/core/register'
import type { InstrumentRow } from './entities'

/**
 * What an instrument reads more, where that is taken into account now; null where it is not. What was found before its
 * certificate was renewed, or before the correction that is used was made (`correctedAt`, ms since 1970), says nothing of it.
 */
export async function offsetTaken(
  data: DataSource,
  { id, certifiedAt }: Pick<InstrumentRow, 'id' | 'certifiedAt'>,
  correctedAt: number | null,
): Promise<ReadsMore | null> {
  const [found] = await data.query<ReadsMore[]>(
    `SELECT luminance, u, v FROM instrument_offset WHERE instrument_id = ? AND state IN ('taking', 'taken') AND at > ?`,
    [id, Math.max(certifiedAt ?? 0, correctedAt ?? 0)],
  )
  return found ?? null
}
