import { Button } from 'antd'
import { useState } from 'react'
import { correctionAgain } from '@bichroma/core/rounds'
import { roleCovers, type Instrument, type MadeCorrection } from '@bichroma/contract'
import { useList } from '../api/lists'
import { useInstruments, useSession } from '../api/queries'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { MakeCorrection } from './MakeCorrection'

/** When a correction is to be made again. */
function againWords({ madeAt, instrumentId, referenceId }: MadeCorrection, instruments: readonly Instrument[]): string {
  const certifiedAt = (id: number) => instruments.find((i) => i.id === id)?.certifiedAt ?? null
  const { at, why } = correctionAgain({
    at: madeAt,
    instrumentCertifiedAt: certifiedAt(instrumentId),
    referenceCertifiedAt: certifiedAt(referenceId),
  })
  return why === 'a year old' ? `again by ${formatDay(at)}` : `again: ${why}`
}

/** Corrections made here: of which instrument, on which display, when, and what they leave. */
export function CorrectionsPlane() {
  const [making, setMaking] = useState(false)
  const { items: corrections, total } = useList<MadeCorrection>('/corrections', { limit: 20 })
  const instruments = useInstruments().data ?? []
  const role = useSession().data?.account?.role ?? 'viewer'
  const serialOf = (id: number) => instruments.find((i) => i.id === id)?.serial ?? 'an instrument'
  return (
    <Plane
      title="Corrections"
      aside={total > corrections.length ? `the newest ${corrections.length} of ${total}` : String(total)}
    >
      {corrections.length ? (
        <table className="figures">
          <tbody>
            {corrections.map((c) => (
              <tr key={c.id}>
                <td>
                  <span className="fig">{serialOf(c.instrumentId)}</span>
                  <br />
                  <span className="small quiet">
                    on {c.displayName}, {formatDay(c.madeAt)}
                  </span>
                </td>
                <td className="second">
                  <span className="fig">{c.residual.toFixed(4)}</span> Δu′v′ left
                  <br />
                  <span className="small quiet">
                    for {c.maker} {c.model}, {againWords(c, instruments)}
                  </span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="none">
          None was made yet. A colorimeter then reads with the correction of its own for each kind of panel.
        </p>
      )}
      {roleCovers(role, 'technician') && (
        <div style={{ padding: '8px 12px 12px' }}>
          <Button onClick={() => setMaking(true)}>Make correction</Button>
        </div>
      )}
      {making && <MakeCorrection onClose={() => setMaking(false)} />}
    </Plane>
  )
}
