import { Select } from 'antd'
import { useMemo, useState } from 'react'
import { judgingWhite, patchDifference, type JudgedPatch, type Metrics } from '@bichroma/core/aims'
import { differenceLabels, type DifferenceFormula } from '@bichroma/core/color'
import { kindOfPatch, patchKinds, type PatchKind } from '@bichroma/core/review'
import { PairChip } from '../parts/PairChip'
import { SortHead, type Sorting } from '../parts/SortHead'

type Column = 'name' | 'lightness' | 'difference'

const kindWords: Readonly<Record<PatchKind, string>> = {
  grey: 'greys',
  primary: 'primaries',
  secondary: 'secondaries',
  mixed: 'mixed hues',
  natural: 'natural colours',
  other: 'others',
}

interface Row {
  readonly patch: JudgedPatch
  readonly kind: PatchKind
  readonly difference: number
}

const compare: Readonly<Record<Column, (a: Row, b: Row) => number>> = {
  name: (a, b) => a.patch.name.localeCompare(b.patch.name, 'en', { numeric: true }),
  lightness: (a, b) => a.patch.lab[0] - b.patch.lab[0],
  difference: (a, b) => a.difference - b.difference,
}

/** Every patch, worst first unless sorted otherwise, all kinds or one: aim and reading as a pair, and their difference. */
export function PatchTable({ metrics, formula }: { metrics: Metrics; formula: DifferenceFormula }) {
  const [kind, setKind] = useState<PatchKind | 'all'>('all')
  const [sorting, setSorting] = useState<Sorting<Column>>({ by: 'difference', down: true })
  const rows = useMemo(() => {
    const white = judgingWhite(metrics)
    return metrics.patches.map((patch): Row => ({
      patch,
      kind: kindOfPatch(patch.rgb),
      difference: patchDifference(patch, formula, white),
    }))
  }, [metrics, formula])
  const present = patchKinds.filter((k) => rows.some((r) => r.kind === k))
  const shown = rows
    .filter((r) => kind === 'all' || r.kind === kind)
    .sort((a, b) => (sorting.down ? -1 : 1) * compare[sorting.by](a, b))
  const head = { sorting, onSort: setSorting }
  return (
    <section className="plane patches" aria-label="Patches">
      <div className="head">
        <h2>{shown.length} patches</h2>
        <Select<PatchKind | 'all'>
          size="small"
          aria-label="Kind of patches shown"
          value={kind}
          onChange={setKind}
          style={{ width: 140 }}
          options={[
            { value: 'all', label: 'all kinds' },
            ...present.map((value) => ({ value, label: kindWords[value] })),
          ]}
        />
      </div>
      <div className="scroll" tabIndex={0} role="region" aria-label="List of patches; left aim, right read">
        <table className="figures">
          <thead>
            <tr>
              <SortHead column="name" {...head}>
                Patch
              </SortHead>
              <SortHead column="lightness" {...head}>
                L*
              </SortHead>
              <SortHead column="difference" {...head}>
                {differenceLabels[formula]}
              </SortHead>
            </tr>
          </thead>
          <tbody>
            {shown.map(({ patch: p, difference }, i) => (
              <tr key={`${p.name} ${i}`} title={`signal ${p.rgb.map((v) => (100 * v).toFixed(0)).join(' ')} %`}>
                <td>
                  <PairChip left={p.targetLab} right={p.lab} />
                  {p.name}
                </td>
                <td className="fig quiet">{p.lab[0].toFixed(0)}</td>
                <td className="fig">{difference.toFixed(2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
