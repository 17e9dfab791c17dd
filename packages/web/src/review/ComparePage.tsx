import { Segmented } from 'antd'
import { useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { formatSigned, formulaOf } from '@bichroma/core/aims'
import { differenceLabels } from '@bichroma/core/color'
import { compareMetrics, type ComparedPatch } from '@bichroma/core/review'
import type { RunReview } from '@bichroma/contract'
import { useReview } from '../api/queries'
import { ValidationPicker, validationWords } from '../parts/Picker'
import { allOf, Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { PairChip } from '../parts/PairChip'
import { SortHead, type Sorting } from '../parts/SortHead'
import { VerdictSign } from '../parts/VerdictSign'
import './review.css'

/** Two validations beside each other: of one display at two times, or of two displays for the same aim. */
export function ComparePage() {
  const [params, setParams] = useSearchParams()
  const [a, b] = [Number(params.get('a')), Number(params.get('b'))]
  const known = { a: useReview(a).data?.run, b: useReview(b).data?.run }
  const choose = (key: 'a' | 'b') => {
    const chosen = known[key]
    return (
      <ValidationPicker
        label={key === 'a' ? 'First validation' : 'Second validation'}
        value={(key === 'a' ? a : b) || undefined}
        known={chosen && { value: chosen.id, label: validationWords(chosen) }}
        placeholder="Choose a validation"
        style={{ width: '100%' }}
        onChange={(id) => setParams({ a: String(key === 'a' ? id : a), b: String(key === 'b' ? id : b) })}
      />
    )
  }
  return (
    <>
      <div className="top">
        <div>
          <h1>Compare</h1>
          <p>Differences are the second less the first, of the figures as shown</p>
        </div>
      </div>
      <div className="comparechoice">
        {choose('a')}
        {choose('b')}
      </div>
      {a && b ? <Both a={a} b={b} /> : <p className="none">Choose two validations to compare.</p>}
    </>
  )
}

function Both({ a, b }: { a: number; b: number }) {
  return (
    <Loaded query={allOf(useReview(a), useReview(b))}>
      {([first, second]) => <Comparison key={`${a} ${b}`} first={first} second={second} />}
    </Loaded>
  )
}

function Comparison({ first, second }: { first: RunReview; second: RunReview }) {
  const formula = formulaOf(first.limits)
  const comparison = useMemo(() => compareMetrics(first.metrics, second.metrics, formula), [first, second, formula])
  const sameAim = first.run.label === second.run.label
  return (
    <>
      {!sameAim && (
        <p className="asks" role="note" style={{ marginBottom: 10 }}>
          The two have different aims, “{first.run.label}” and “{second.run.label}”: their patches are compared as they
          are seen, their figures each against its own aim.
        </p>
      )}
      <div className="comparison">
        <Plane title="Figures" aside="▸ marks the one nearer to its aim">
          <table className="figures">
            <thead>
              <tr>
                <th />
                {[first, second].map((r) => (
                  <th key={r.run.id}>
                    <Link to={`/review/${r.run.id}`}>{r.displayName}</Link>{' '}
                    <VerdictSign verdict={r.judgement.verdict} size={10} />
                  </th>
                ))}
                <th>difference</th>
              </tr>
            </thead>
            <tbody>
              {comparison.figures.map((f) => (
                <tr key={f.name}>
                  <td>{f.name}</td>
                  {(['first', 'second'] as const).map((side) => (
                    <td key={side} className="fig">
                      {f.nearer === side && <span aria-label="nearer to its aim">▸ </span>}
                      {f[side]}
                    </td>
                  ))}
                  <td className="fig">{f.difference}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Plane>
        <Patches patches={comparison.patches} unmatched={comparison.unmatched} label={differenceLabels[formula]} />
      </div>
    </>
  )
}

type Column = 'name' | 'firstOff' | 'secondOff' | 'change' | 'apart'

function Patches({
  patches,
  unmatched,
  label,
}: {
  patches: readonly ComparedPatch[]
  unmatched: number
  label: string
}) {
  const [sorting, setSorting] = useState<Sorting<Column>>({ by: 'apart', down: true })
  const [shown, setShown] = useState<'all' | 'worse' | 'better'>('all')
  const rows = patches
    .filter((p) => shown === 'all' || (shown === 'worse' ? p.change > 0.005 : p.change < -0.005))
    .sort((x, y) => {
      const order =
        sorting.by === 'name' ? x.name.localeCompare(y.name, 'en', { numeric: true }) : x[sorting.by] - y[sorting.by]
      return sorting.down ? -order : order
    })
  const head = { sorting, onSort: setSorting }
  return (
    <section className="plane patches" aria-label="Patches">
      <div className="head">
        <h2>
          {rows.length} patches, {label}
        </h2>
        <Segmented
          size="small"
          aria-label="Patches shown"
          value={shown}
          onChange={setShown}
          options={[
            { value: 'all', label: 'all' },
            { value: 'worse', label: 'further off' },
            { value: 'better', label: 'nearer' },
          ]}
        />
      </div>
      <div className="scroll" tabIndex={0} role="region" aria-label="List of patches; left first, right second">
        <table className="figures">
          <thead>
            <tr>
              <SortHead column="name" {...head}>
                Patch
              </SortHead>
              <SortHead column="firstOff" {...head}>
                first
              </SortHead>
              <SortHead column="secondOff" {...head}>
                second
              </SortHead>
              <SortHead column="change" {...head}>
                difference
              </SortHead>
              <SortHead column="apart" {...head}>
                apart
              </SortHead>
            </tr>
          </thead>
          <tbody>
            {rows.map((p) => (
              <tr key={`${p.name} ${p.rgb.join(' ')}`}>
                <td>
                  <PairChip left={p.first} right={p.second} />
                  {p.name}
                </td>
                <td className="fig">{p.firstOff.toFixed(2)}</td>
                <td className="fig">{p.secondOff.toFixed(2)}</td>
                <td className="fig">{formatSigned(p.change, 2)}</td>
                <td className="fig">{p.apart.toFixed(2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {unmatched > 0 && (
          <p className="second small" style={{ padding: '8px 12px' }}>
            {unmatched} {unmatched === 1 ? 'patch was' : 'patches were'} read in one of the two only.
          </p>
        )}
      </div>
    </section>
  )
}
