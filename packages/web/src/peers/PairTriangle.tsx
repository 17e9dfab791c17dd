import { formatSigned } from '@bichroma/core/aims'
import type { PairDifference } from '@bichroma/core/peers'
import type { PeerSetDetail } from '@bichroma/contract'
import { VerdictSign } from '../parts/VerdictSign'
import { directionWords, nameIn } from './words'

type Alike = NonNullable<NonNullable<PeerSetDetail['standing']>['alike']>
export type Pair = readonly [number, number]

export const sameAs = (a: Pair, b: Pair | null) => b !== null && a[0] === b[0] && a[1] === b[1]

/** Every pair once: columns beside rows, how far apart, with the sign and the way in which the column's member lies. */
export function PairTriangle({
  set,
  alike,
  chosen,
  onChoose,
}: {
  set: PeerSetDetail
  alike: Alike
  chosen: Pair
  onChoose: (pair: Pair) => void
}) {
  const ids = [...new Set(alike.pairs.flatMap((p) => p.pair))]
  const verdictOf = (pair: Pair) => alike.verdict.pairs.find((v) => sameAs(v.pair, pair))!
  return (
    <div className="sideways">
      <table className="pairs" aria-label="Pairs of members: ΔE2000 on average">
        <thead>
          <tr>
            <th />
            {ids.slice(1).map((id) => (
              <th key={id} scope="col">
                {nameIn(set.members, id)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ids.slice(0, -1).map((row, i) => (
            <tr key={row}>
              <th scope="row">{nameIn(set.members, row)}</th>
              {ids.slice(1).map((column, j) => {
                if (j < i) return <td key={column} />
                const pair = alike.pairs.find((p) => sameAs(p.pair, [row, column]))!
                return (
                  <td key={column}>
                    <Cell
                      pair={pair}
                      verdict={verdictOf(pair.pair).verdict}
                      allowed={set.limits.white.hard}
                      isWorst={sameAs(pair.pair, alike.verdict.worst.pair)}
                      isChosen={sameAs(pair.pair, chosen)}
                      onChoose={() => onChoose(pair.pair)}
                    />
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function Cell({
  pair,
  verdict,
  allowed,
  isWorst,
  isChosen,
  onChoose,
}: {
  pair: PairDifference
  verdict: Parameters<typeof VerdictSign>[0]['verdict']
  /** Δu′v′ between whites. */
  allowed: number
  isWorst: boolean
  isChosen: boolean
  onChoose: () => void
}) {
  const { average, white } = pair
  return (
    <button type="button" className="pair" aria-pressed={isChosen} onClick={onChoose} title={directionWords(white)}>
      <span className="fig">
        {average.toFixed(2)}
        {/* The sign of those that are not well, and of the worst in any case. */}
        {(isWorst || verdict !== 'within') && (
          <>
            {' '}
            <VerdictSign verdict={verdict} size={10} />
          </>
        )}
      </span>
      <span className="fig small quiet">{formatSigned(100 * white.luminance, 1)} %</span>
      <Needle u={white.u} v={white.v} allowed={allowed} />
    </button>
  )
}

/** Where the column's white lies from the row's in u′v′; the circle is what is allowed. */
function Needle({ u, v, allowed }: { u: number; v: number; allowed: number }) {
  const by = 9 / Math.max(allowed, Math.hypot(u, v) / 1.3)
  return (
    <svg width="24" height="24" viewBox="-12 -12 24 24" aria-hidden className="needle">
      <circle r="9" />
      <path d={`M0 0L${(u * by).toFixed(2)} ${(-v * by).toFixed(2)}`} />
      <circle r="1.4" className="middle" />
    </svg>
  )
}
