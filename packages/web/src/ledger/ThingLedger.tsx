import type { LedgerEntry, LedgerThing } from '@bichroma/contract'
import { useList } from '../api/lists'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { changeWords, evidenceWords } from './words'

/** What the ledger tells of one thing, newest first. */
export function ThingLedger({ thing, id }: { thing: LedgerThing; id: number }) {
  const { items, total, hasNext, fetchNext } = useList<LedgerEntry>(`/ledger/${thing}/${id}`, { limit: 12 })
  if (!total) return null
  return (
    <Plane title="Ledger" aside={String(total)}>
      <div className="sidescroll" tabIndex={0} role="region" aria-label="Ledger">
        <table className="figures">
          <tbody>
            {items.map((e) => (
              <tr key={e.id}>
                <td>
                  {e.by} {e.act}
                  <br />
                  <span className="small quiet">
                    {[...(e.why ? [`“${e.why}”`] : []), ...e.changes.map(changeWords), ...evidenceWords(e)].join(' · ')}
                  </span>
                </td>
                <td className="fig">{formatMoment(e.at)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {hasNext && (
          <button type="button" className="act" style={{ margin: '6px 12px 10px' }} onClick={fetchNext}>
            Show more
          </button>
        )}
      </div>
    </Plane>
  )
}
