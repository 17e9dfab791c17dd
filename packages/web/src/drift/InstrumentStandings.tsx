import { Button } from 'antd'
import { useNavigate } from 'react-router'
import { formatSigned } from '@bichroma/core/aims'
import type { InstrumentReading, InstrumentTurn } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend, useSession } from '../api/queries'
import { Plane } from '../parts/Plane'

/** Instruments beside each other: how each reads on slots that others read too. One that stands out is told with its evidence. */
export function InstrumentStandings({
  instruments,
  changes,
}: {
  instruments: InstrumentReading[]
  /** Those that have begun to read otherwise. */
  changes: InstrumentTurn[]
}) {
  const outlying = instruments.filter((i) => i.stands)
  return (
    <Plane title="Instruments beside each other" aside="on slots they share" className="groups">
      {instruments.length === 0 ? (
        <p className="none">No slot has been read by two instruments yet.</p>
      ) : (
        <>
          <table className="figures">
            <thead>
              <tr>
                <th>instrument</th>
                <th>slots</th>
                <th>luminance</th>
                <th>X</th>
                <th>Z</th>
              </tr>
            </thead>
            <tbody>
              {instruments.map((i) => (
                <tr key={i.instrumentId} className={i.stands ? 'asks' : undefined}>
                  <td>{i.name}</td>
                  <td className="fig">{i.slots}</td>
                  {[i.luminance, i.x, i.z].map((v, k) => (
                    <td key={k} className="fig">
                      {formatSigned(v, 1)} %
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          <div className="evidence">
            {changes.map((c) => (
              <p key={`since ${c.instrumentId}`} role="note">
                {c.sentence} <WeighTurn turn={c} />
              </p>
            ))}
            {outlying.length ? (
              outlying.map((i) => (
                <p key={i.instrumentId} role="note">
                  {i.sentence}
                </p>
              ))
            ) : changes.length ? null : (
              <p className="second">None reads differently from the others by more than chance.</p>
            )}
          </div>
        </>
      )}
    </Plane>
  )
}

/** Weighs what checks tell of an instrument: how many verdicts would be others. */
function WeighTurn({ turn }: { turn: InstrumentTurn }) {
  const navigate = useNavigate()
  const weigh = useSend(async () => {
    const { instrumentId } = turn
    await ask('POST', '/instrument-offsets', { instrumentId, source: 'checks', ringId: null, since: null })
    void navigate('/peers/rings')
  })
  if (useSession().data?.account?.role !== 'administrator') return null
  return (
    <Button size="small" loading={weigh.isPending} onClick={() => weigh.mutate(undefined)}>
      Weigh what that changes
    </Button>
  )
}
