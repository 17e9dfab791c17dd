import type { DataSource } from 'typeorm'
import { IsNull, Not } from 'typeorm'
import type { Metrics } from '@bichroma/core/aims'
import { placeName } from '@bichroma/core/runs'
import { runEntity } from './entities'

/** How even a display's screen was when it was last read place by place; null when it never was. */
export async function newestUniformity(data: DataSource, displayId: number): Promise<Metrics['uniformity'] | null> {
  const run = await data.getRepository(runEntity).findOne({
    select: { id: true, uniformity: true },
    where: { displayId, state: 'done', kind: 'uniformity', uniformity: Not(IsNull()) },
    order: { id: 'DESC' },
  })
  if (!run?.uniformity) return null
  const { worstLuminance, worstUv } = run.uniformity
  return { luminanceOff: worstLuminance.luminanceOff, deltaUv: worstUv.deltaUv, at: placeName(worstLuminance) }
}
