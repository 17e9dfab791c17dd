import { Button, InputNumber, Popconfirm, Select } from 'antd'
import { useState } from 'react'
import { Link, useLocation, useSearchParams } from 'react-router'
import { formatSigned } from '@bichroma/core/aims'
import { planSpotRing } from '@bichroma/core/peers'
import { panelKinds } from '@bichroma/core/register'
import { mostRingSteps, type DisplayListing, type Ring, type RingFallsDue, type RingResult } from '@bichroma/contract'
import { ask } from '../api/client'
import { useList } from '../api/lists'
import { useInstruments, useSend, useSession } from '../api/queries'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { Offsets, WeighOffset } from './Offsets'
import './peers.css'

/** Rings: how instruments agree that read the same displays. */
export function RingsPage() {
  const list = useList<Ring>('/rings')
  const mayStart = useSession().data?.account?.role === 'administrator'
  const open = list.items.find((r) => r.state === 'under way')
  const newest = list.items.find((r) => r.state === 'done')
  return (
    <>
      <div className="top">
        <div>
          <h1>Rings of instruments</h1>
          <p>
            <Link to="/peers">Peer sets</Link> ·{' '}
            {newest ? agreeWords(newest) : 'All instruments read the same displays, to see how they agree'}
          </p>
        </div>
      </div>
      <div className="rings">
        <div className="side">
          <Offsets mayDecide={mayStart} />
          {open && <UnderWay ring={open} mayStop={mayStart} />}
          {list.items
            .filter((r) => r.state !== 'under way')
            .map((ring) => (
              <Result key={ring.id} ring={ring} mayWeigh={mayStart} />
            ))}
          {!list.items.length && (
            <Plane>
              <p className="none">
                No ring has been made yet. Twice a year, and before a certificate ends, is a good rule.
              </p>
            </Plane>
          )}
        </div>
        {mayStart && !open && <StartRing />}
      </div>
    </>
  )
}

const nameOf = (ring: Ring, id: number) => ring.instruments.find((i) => i.id === id)?.name ?? `instrument ${id}`

/** What the newest ring came to: who is furthest from the rest. */
function agreeWords(ring: Ring): string {
  const offsets = ring.result?.find((r) => r.panelKind === null)?.offsets
  if (!offsets) return 'the last ring had too few looks to tell'
  const far = offsets.reduce((a, b) => (Math.abs(b.luminance.value) > Math.abs(a.luminance.value) ? b : a))
  const sure = Math.abs(far.luminance.value) > far.luminance.within
  return `furthest from the rest: ${nameOf(ring, far.instrument)}, ${percent(far.luminance.value)} ± ${(100 * far.luminance.within).toFixed(1)}\u00a0%${sure ? '' : ', which may be chance'}`
}

const percent = (share: number) => formatSigned(100 * share, 1)

function UnderWay({ ring, mayStop }: { ring: Ring; mayStop: boolean }) {
  const stop = useSend(() => ask('POST', `/rings/${ring.id}/stop`))
  const done = ring.steps.filter((s) => s.runState === 'done').length
  const now = ring.steps.find((s) => s.runId !== null && s.runState !== 'done') ?? ring.steps[done]
  return (
    <Plane title="Under way" aside={`${done} of ${ring.stepCount} steps`}>
      <div style={{ padding: '0 12px 12px', display: 'grid', gap: 8 }}>
        <div className="bar" style={{ width: '100%' }}>
          <i style={{ width: `${(100 * done) / ring.stepCount}%` }} />
        </div>
        {now && (
          <p>
            <b style={{ fontWeight: 500 }}>{nameOf(ring, now.instrumentId)}</b> on {now.displayName}
            {now.runId !== null && (
              <>
                , <Link to={`/runs/${now.runId}`}>run {now.runId}</Link>
              </>
            )}
            {now.message && <span className="asks"> {now.message}</span>}
          </p>
        )}
        {mayStop && (
          <Popconfirm title="Break this ring off?" okText="Break it off" onConfirm={() => stop.mutate(undefined)}>
            <Button style={{ justifySelf: 'start' }}>Break ring off</Button>
          </Popconfirm>
        )}
      </div>
    </Plane>
  )
}

function Result({ ring, mayWeigh }: { ring: Ring; mayWeigh: boolean }) {
  const { displays } = ring
  return (
    <Plane
      title={formatMoment(ring.startedAt)}
      aside={`${ring.instruments.length} instruments, ${displays} ${displays === 1 ? 'display' : 'displays'}, ${ring.by}`}
    >
      {ring.result ? (
        <div className="sideways">
          <table className="figures">
            <thead>
              <tr>
                <th>{ring.referenceId === null ? 'beside all of them' : `beside ${nameOf(ring, ring.referenceId)}`}</th>
                <th>luminance, %</th>
                <th>u′</th>
                <th>v′</th>
                {mayWeigh && <th />}
              </tr>
            </thead>
            {ring.result.map((of) => (
              <Rows key={of.panelKind ?? 'all'} ring={ring} of={of} mayWeigh={mayWeigh} />
            ))}
          </table>
        </div>
      ) : (
        <p className="none asks">{ring.says ?? 'It was broken off.'}</p>
      )}
    </Plane>
  )
}

function Rows({ ring, of, mayWeigh }: { ring: Ring; of: RingResult; mayWeigh: boolean }) {
  const cell = ({ value, within }: { value: number; within: number }, by: number, digits: number) => (
    <td className={Math.abs(value) > within ? 'fig' : 'fig quiet'}>
      {formatSigned(value * by, digits)} <span className="unit">± {(within * by).toFixed(digits)}</span>
    </td>
  )
  return (
    <tbody>
      <tr>
        <td colSpan={mayWeigh ? 5 : 4} className="small second">
          {of.panelKind === null
            ? `all kinds of panel, ${of.displays} ${of.displays === 1 ? 'display' : 'displays'}`
            : panelKinds[of.panelKind]}
          {of.offsets === null && ': too few looks to tell'}
        </td>
      </tr>
      {of.offsets
        ?.filter((o) => o.instrument !== ring.referenceId)
        .map((o) => (
          <tr key={o.instrument}>
            <td>{nameOf(ring, o.instrument)}</td>
            {cell(o.luminance, 100, 1)}
            {cell(o.u, 1, 4)}
            {cell(o.v, 1, 4)}
            {mayWeigh && (
              <td>
                {of.panelKind === null && (
                  <WeighOffset ring={ring} instrumentId={o.instrument} name={nameOf(ring, o.instrument)} />
                )}
              </td>
            )}
          </tr>
        ))}
    </tbody>
  )
}

/** Numbers that an address names. */
const named = (text: string | null): number[] =>
  (text ?? '')
    .split(',')
    .map(Number)
    .filter((n) => Number.isSafeInteger(n) && n > 0)

function StartRing() {
  const all = useInstruments().data ?? []
  const [asked] = useSearchParams()
  const proposed = (useLocation().state as { displays?: RingFallsDue['displays'] } | null)?.displays ?? []
  const [instruments, setInstruments] = useState<number[]>(() => named(asked.get('instruments')))
  const [displays, setDisplays] = useState<number[]>(() => named(asked.get('displays')))
  const [reference, setReference] = useState<number | null>(null)
  const [wanted, setWanted] = useState(0.2)
  const [search, setSearch] = useState('')
  const found = useList<DisplayListing>('/displays', { search, limit: 50 })
  // What was proposed is known by its name, however many displays there are.
  const shown = [...found.items, ...proposed.filter((p) => !found.items.some((d) => d.id === p.id))]
  const start = useSend(() =>
    ask('POST', '/rings', { instruments, displays, reference, wanted: Math.round(wanted * 1e4) / 1e6 }),
  )
  const plan =
    instruments.length > 1 && displays.length
      ? planSpotRing({ instruments, displays, wanted: Math.max(0.02, wanted) / 100 })
      : null
  return (
    <Plane title="Start a ring">
      <form
        className="ringform"
        onSubmit={(e) => {
          e.preventDefault()
          start.mutate(undefined)
        }}
      >
        <label>
          <span className="small second">Instruments</span>
          <Select<number[]>
            mode="multiple"
            aria-label="Instruments"
            placeholder="two at least"
            value={instruments}
            onChange={(chosen) => {
              setInstruments(chosen)
              if (reference !== null && !chosen.includes(reference)) setReference(null)
            }}
            optionFilterProp="label"
            options={all.map((i) => ({ value: i.id, label: `${i.model} ${i.serial}` }))}
          />
        </label>
        <label>
          <span className="small second">Beside</span>
          <Select<number>
            aria-label="Beside"
            value={reference ?? 0}
            onChange={(id) => setReference(id || null)}
            options={[
              { value: 0, label: 'what all of them read on average' },
              ...all
                .filter((i) => instruments.includes(i.id))
                .map((i) => ({ value: i.id, label: `${i.model} ${i.serial}` })),
            ]}
          />
        </label>
        <label>
          <span className="small second">Displays</span>
          <Select<number[]>
            mode="multiple"
            aria-label="Displays"
            placeholder="one at least, close together"
            value={displays}
            onChange={setDisplays}
            showSearch={{ filterOption: false, onSearch: setSearch }}
            options={shown.map((d) => ({ value: d.id, label: `${d.name}, ${d.room}` }))}
          />
        </label>
        <label>
          <span className="small second">Uncertainty of luminance wanted, %</span>
          <InputNumber
            aria-label="Uncertainty of luminance wanted, %"
            value={wanted}
            min={0.02}
            max={5}
            step={0.05}
            onChange={(v) => setWanted(v ?? 0.2)}
            style={{ width: '100%' }}
          />
        </label>
        <p className="small quiet">
          {plan
            ? `${plan.steps.length} short runs${plan.steps.length > mostRingSteps ? ` (${mostRingSteps} at most)` : ''}, each display there and back: ± ${(100 * plan.uncertainty).toFixed(2)}\u00a0%${plan.enough ? '' : ', the best that this many displays give'}.`
            : 'More displays, and those of more kinds of panel, tell more.'}
        </p>
        <Button
          type="primary"
          htmlType="submit"
          disabled={!plan || plan.steps.length > mostRingSteps}
          loading={start.isPending}
        >
          Start ring
        </Button>
      </form>
    </Plane>
  )
}
