import { Alert, Button, DatePicker } from 'antd'
import dayjs from 'dayjs'
import { useState } from 'react'
import { Link } from 'react-router'
import { ledgerThings, type LedgerEntry, type LedgerProof } from '@bichroma/contract'
import { ask } from '../api/client'
import { addressOf, useList } from '../api/lists'
import { useSend } from '../api/queries'
import { Filter } from '../parts/Filter'
import { FindInput } from '../parts/FindInput'
import { countWords, LongTable } from '../parts/LongTable'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { useAddress } from '../parts/useAddress'
import { changeWords, evidenceWords, placeOf, thingWords } from './words'

/** Who did what, when and why: newest first. */
export function LedgerPage() {
  const [asked, askFor] = useAddress(['search', 'thing', 'by', 'from', 'to'])
  const list = useList<LedgerEntry>('/ledger', asked)
  const [proof, setProof] = useState<LedgerProof | null>(null)
  const prove = useSend(async () => setProof(await ask<LedgerProof>('GET', '/ledger/proof')))
  return (
    <>
      <div className="top">
        <div>
          <h1>Ledger</h1>
          <p>Who did what, when and why; what stands here stays</p>
        </div>
        <div className="acts">
          <Link to="/ledger/backups">Backups</Link>
          <Button href={`/api${addressOf('/ledger/file', asked)}`}>Save as file</Button>
          <Button loading={prove.isPending} onClick={() => prove.mutate(undefined)}>
            Prove the ledger
          </Button>
        </div>
      </div>
      {proof && <Proof proof={proof} onClose={() => setProof(null)} />}
      <Plane title="Newest first" aside={countWords(list)}>
        <div className="listtools">
          <FindInput
            label="Find entries"
            placeholder="Find by person, deed or name"
            value={asked.search}
            onFind={(search) => askFor({ search })}
          />
          <Filter
            label="Thing"
            all="everything"
            value={asked.thing}
            onChange={(thing) => askFor({ thing })}
            options={ledgerThings.map((value) => ({ value, label: thingWords[value] }))}
          />
          <Day label="From day" value={asked.from} onChange={(from) => askFor({ from })} />
          <Day label="To day" value={asked.to} onChange={(to) => askFor({ to })} />
        </div>
        <LongTable
          label="Ledger"
          list={list}
          keyOf={(e) => e.id}
          rowHeight={42}
          none={Object.values(asked).some(Boolean) ? 'No entry fits.' : 'Nothing has been done yet.'}
          columns={[
            { title: 'When', width: 118, show: (e) => <span className="fig">{formatMoment(e.at)}</span> },
            {
              title: 'Who',
              width: 150,
              show: (e) => (
                <button type="button" className="linklike" onClick={() => askFor({ by: asked.by ? '' : e.by })}>
                  {e.by}
                </button>
              ),
            },
            { title: 'Deed', width: 104, show: (e) => e.act },
            { title: 'What', width: '30%', show: (e) => <What entry={e} /> },
            { title: 'From, to, why, by what', show: (e) => <Told entry={e} /> },
            {
              title: 'Entry',
              width: 72,
              right: true,
              show: (e) => (
                <span className="fig quiet" title={`SHA-256 ${e.hash}`}>
                  {e.id}
                </span>
              ),
            },
          ]}
        />
      </Plane>
      {asked.by && (
        <p className="small" style={{ marginTop: 8 }}>
          Only what {asked.by} did.{' '}
          <button type="button" className="act" onClick={() => askFor({ by: '' })}>
            Show everybody
          </button>
        </p>
      )}
    </>
  )
}

const Day = ({ label, value, onChange }: { label: string; value: string; onChange: (day: string) => void }) => (
  <DatePicker
    aria-label={label}
    placeholder={label}
    value={value ? dayjs(value) : null}
    onChange={(day: dayjs.Dayjs | null) => onChange(day ? day.format('YYYY-MM-DD') : '')}
    style={{ width: 130 }}
  />
)

function What({ entry }: { entry: LedgerEntry }) {
  const place = placeOf(entry)
  return (
    <>
      {place ? <Link to={place}>{entry.name}</Link> : entry.name}
      <br />
      <span className="small quiet">{thingWords[entry.thing]}</span>
    </>
  )
}

function Told({ entry }: { entry: LedgerEntry }) {
  const words = [...entry.changes.map(changeWords), ...evidenceWords(entry)].join(' · ')
  return (
    <span className="second small" title={words}>
      {entry.why && <>“{entry.why}” </>}
      {words}
    </span>
  )
}

/** What looking through all of it found. */
function Proof({ proof, onClose }: { proof: LedgerProof; onClose: () => void }) {
  const whole = !proof.faults.length
  return (
    <Alert
      style={{ marginBottom: 14 }}
      type={whole ? 'info' : 'warning'}
      role="alert"
      closable={{ onClose }}
      title={
        whole
          ? `All ${proof.entries.toLocaleString('en')} entries follow one another, and none was changed.`
          : `${proof.faults.length === 1 ? 'One place' : `${proof.faults.length} places`} in ${proof.entries.toLocaleString('en')} entries do not hold.`
      }
      description={
        whole
          ? proof.head && (
              <>
                Head <span className="fig">{proof.head}</span>
              </>
            )
          : proof.faults
              .slice(0, 8)
              .map((f) => `Entry ${f.id}: ${f.what}.`)
              .join(' ')
      }
    />
  )
}
