import { formatSigned } from '@bichroma/core/aims'
import { peerFigureOf, peerFigures, type PairDifference } from '@bichroma/core/peers'
import type { PeerSetDetail } from '@bichroma/contract'
import { Plane } from '../parts/Plane'
import { VerdictSign } from '../parts/VerdictSign'
import { sameAs, type Pair } from './PairTriangle'
import { apartWords, directionWords, figureWords, nameIn, shownFigure } from './words'

type Alike = NonNullable<NonNullable<PeerSetDetail['standing']>['alike']>

/** Two members side by side: each figure with its doubt and its edges, and greys by level. */
export function PairPlane({ set, alike, chosen }: { set: PeerSetDetail; alike: Alike; chosen: Pair }) {
  const pair = alike.pairs.find((p) => sameAs(p.pair, chosen))
  if (!pair) return null
  const [one, other] = pair.pair.map((id) => nameIn(set.members, id))
  const doubt = alike.doubts.find((d) => sameAs(d.pair, pair.pair))?.figures
  const verdict = alike.verdict.pairs.find((v) => sameAs(v.pair, pair.pair))!
  return (
    <Plane
      title={
        <>
          {other} beside {one}
        </>
      }
      aside={
        <>
          <VerdictSign verdict={verdict.verdict} size={11} /> {directionWords(pair.white)}
        </>
      }
    >
      <table className="figures">
        <thead>
          <tr>
            <th>Apart by</th>
            <th>read</th>
            <th>may be</th>
            <th>allowed</th>
          </tr>
        </thead>
        <tbody>
          {peerFigures.map((figure) => {
            const { near, hard } = set.limits[figure]
            const value = peerFigureOf[figure](pair)
            const interval = doubt?.[figure]
            return (
              <tr key={figure}>
                <td>{figureWords[figure]}</td>
                <td className={value > hard ? 'fig asks' : 'fig'}>{shownFigure[figure](value)}</td>
                <td className="fig quiet">
                  {interval
                    ? `${shownFigure[figure](interval.low).replace(' %', '')}–${shownFigure[figure](interval.high)}`
                    : 'not known'}
                </td>
                <td className="fig second" title={`near the edge from ${shownFigure[figure](near)}`}>
                  {shownFigure[figure](hard)}
                </td>
              </tr>
            )
          })}
          <tr>
            <td>worst patch</td>
            <td className="fig">{pair.worst.deltaE.toFixed(2)}</td>
            <td colSpan={2}>{pair.worst.patch}</td>
          </tr>
          <tr>
            <td>told apart</td>
            <td colSpan={3}>{apartWords(alike.forecasts[alike.pairs.indexOf(pair)])}</td>
          </tr>
          <tr>
            <td>white</td>
            <td colSpan={3} className="fig second">
              u′ {formatSigned(pair.white.u, 4)}, v′ {formatSigned(pair.white.v, 4)},{' '}
              {formatSigned(100 * pair.white.luminance, 1)} %
            </td>
          </tr>
          {set.matches
            .filter((m) => m.state === 'in force' && pair.pair.includes(m.displayId))
            .map((m) => (
              <tr key={m.id}>
                <td>by eye</td>
                <td colSpan={3} className="small second">
                  {m.name} moved by u′ {formatSigned(m.offset.u, 4)}, v′ {formatSigned(m.offset.v, 4)}: taken off above
                </td>
              </tr>
            ))}
        </tbody>
      </table>
      <Greys pair={pair} name={other} />
    </Plane>
  )
}

const frame = { width: 300, height: 86, left: 30, right: 8, top: 6, bottom: 18 }

/** How much lighter the second is by level of grey, in L*. */
function Greys({ pair, name }: { pair: PairDifference; name: string }) {
  const { greys } = pair
  if (greys.length < 2) return null
  const most = Math.max(0.5, ...greys.map((g) => Math.abs(g.lighter)))
  const end = most > 2 ? Math.ceil(most) : Math.ceil(most * 2) / 2
  const x = (level: number) => frame.left + level * (frame.width - frame.left - frame.right)
  const y = (lighter: number) => frame.top + ((end - lighter) / (2 * end)) * (frame.height - frame.top - frame.bottom)
  return (
    <svg
      viewBox={`0 0 ${frame.width} ${frame.height}`}
      className="peergreys"
      role="img"
      aria-label={`How much lighter ${name} is by level of grey, L*`}
    >
      {[end, 0, -end].map((v) => (
        <g key={v}>
          <path d={`M${frame.left} ${y(v)}H${frame.width - frame.right}`} className={v === 0 ? 'zero' : 'axis'} />
          <text x={frame.left - 5} y={y(v) + 4} textAnchor="end">
            {v === 0 ? '0' : formatSigned(v, 1)}
          </text>
        </g>
      ))}
      <path d={greys.map((g, i) => `${i ? 'L' : 'M'}${x(g.level)} ${y(g.lighter)}`).join('')} className="line" />
      <text x={frame.left} y={frame.height - 4}>
        black
      </text>
      <text x={(frame.left + frame.width) / 2} y={frame.height - 4} textAnchor="middle">
        L* lighter, by grey level
      </text>
      <text x={frame.width - frame.right} y={frame.height - 4} textAnchor="end">
        white
      </text>
    </svg>
  )
}
