import { Link } from 'react-router'
import { convertChromaticityToUv, type Primaries } from '@bichroma/core/color'
import { roundedLight, type CommonGround } from '@bichroma/core/peers'
import { primariesOfCorners } from '@bichroma/core/runs'
import type { PeerMember, PeerSetDetail } from '@bichroma/contract'
import { AimRing } from '../parts/AimRing'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { lackSentence } from './words'

type Standing = NonNullable<PeerSetDetail['standing']>

/** Height of the scale of light and of black, px. */
const [tall, low] = [78, 18]
/** Room above the brightest and below the darkest. */
const margin = 4

/**
 * What members have in common: they stand on one line, what each reaches on scales that all share, and the ground is the
 * band through all of them. Whoever holds the set back touches the band's edge.
 */
export function GroundPlane({ set }: { set: PeerSetDetail }) {
  const { standing, members } = set
  const ground = standing?.ground ?? null
  const columns = { gridTemplateColumns: `92px repeat(${members.length}, minmax(86px, 1fr))` }
  return (
    <Plane title="Common ground" aside={ground ? groundAside(ground, set) : undefined} className="ground">
      <div className="sideways">
        <div className="groundgrid" style={columns}>
          <span />
          {members.map((m) => (
            <Member
              key={m.displayId}
              member={m}
              isReference={set.reference === m.displayId}
              known={knownWords(standing?.lights.find((l) => l.id === m.displayId))}
            />
          ))}
          {ground && standing && <Scales set={set} standing={standing} ground={ground} />}
        </div>
      </div>
      {!ground && <p className="none">{lackSentence(set) ?? 'Its common ground is being worked out.'}</p>}
    </Plane>
  )
}

const groundAside = ({ luminance, standard }: CommonGround, { asked }: PeerSetDetail) => (
  <>
    <span className="fig second">{roundedLight(luminance)}</span> cd/m² with{' '}
    <span className="fig">{Math.round(asked.headroom * 100)} %</span> kept in hand,{' '}
    {standard ?? 'the largest gamut that all share'}
  </>
)

function Member({
  member,
  isReference,
  known,
}: {
  member: PeerMember
  isReference: boolean
  /** When its light was read. */
  known: string | null
}) {
  const { judged } = member
  return (
    <div className="peer">
      <AimRing
        aim={judged?.aimWhite ?? null}
        measured={judged?.white ?? null}
        verdict={judged?.verdict ?? 'unproven'}
        size={30}
      />
      <div>
        <Link to={`/register/${member.displayId}`}>{member.name}</Link>
        <br />
        <span className="small quiet">
          {member.model}, slot {member.slot}
          {isReference && ', reference'}
        </span>
        {known && (
          <>
            <br />
            <span className="small quiet">{known}</span>
          </>
        )}
        {member.kept !== 'in use' && <span className="small asks"> {member.kept}</span>}
      </div>
    </div>
  )
}

function Scales({ set, standing, ground }: { set: PeerSetDetail; standing: Standing; ground: CommonGround }) {
  const { members } = set
  const of = (id: number) => ground.members.find((m) => m.id === id)
  const lightOf = (id: number) => standing.lights.find((l) => l.id === id)
  const most = Math.max(...ground.members.map((m) => m.reach))
  const y = (luminance: number) => margin + (tall - margin) * (1 - luminance / most)
  const blacks = ground.members.map((m) => m.black)
  return (
    <>
      <Heading of="Light" unit="cd/m²" says="What each reaches at the white of the set; the tick: when it falls due" />
      {members.map(({ displayId }) => {
        const m = of(displayId)
        if (!m) return <span key={displayId} className="cell" />
        const holds = m.without.luminance > 1.005
        return (
          <div key={displayId} className="cell">
            <svg
              viewBox={`0 0 100 ${tall}`}
              preserveAspectRatio="none"
              height={tall}
              role="img"
              aria-label={`Reaches ${m.reach.toFixed(0)} cd/m² now, ${m.reachWhenDue.toFixed(0)} when it falls due`}
            >
              <rect x="0" width="100" y={y(ground.luminance)} height={tall - y(ground.luminance)} className="band" />
              <path d={`M0 ${y(ground.luminance)}H100`} className="bandedge" />
              <rect
                x="42"
                width="16"
                y={y(m.reach)}
                height={tall - y(m.reach)}
                className={holds ? 'reach holds' : 'reach'}
              />
              {m.reachWhenDue < m.reach - 0.05 && <path d={`M34 ${y(m.reachWhenDue)}H66`} className="due" />}
            </svg>
            <p>
              <span className={holds ? 'fig asks' : 'fig'}>{m.reach.toFixed(0)}</span>{' '}
              {holds && (
                <span className="small asks">+{(100 * (m.without.luminance - 1)).toFixed(0)} % without it</span>
              )}
              {!holds && (
                <span className="small quiet">gives up {(100 * (1 - ground.luminance / m.reach)).toFixed(0)} %</span>
              )}
            </p>
          </div>
        )
      })}
      <Heading of="Gamut" unit="u′v′" says="Each one’s own triangle, and what all share" />
      {members.map(({ displayId }) => {
        const m = of(displayId)
        const light = lightOf(displayId)?.light
        if (!m || !light) return <span key={displayId} className="cell" />
        const holds = m.without.gamut > 1.005
        return (
          <div key={displayId} className="cell">
            <Triangles own={primariesOfCorners(light)} shared={ground.primaries} holds={holds} />
            <p>
              <span className={holds ? 'fig asks' : 'fig'}>{(100 * m.gamutUsed).toFixed(0)} %</span>{' '}
              {holds ? (
                <span className="small asks">+{(100 * (m.without.gamut - 1)).toFixed(0)} % without it</span>
              ) : (
                <span className="small quiet">of its own used</span>
              )}
            </p>
          </div>
        )
      })}
      <Heading
        of="Black"
        unit="cd/m²"
        says={`At the common light; ${set.black === 'common' ? 'all are lifted to the highest' : 'each keeps its own'}`}
      />
      {members.map(({ displayId }) => {
        const m = of(displayId)
        if (!m) return <span key={displayId} className="cell" />
        const holds = set.black === 'common' && m.without.black < 0.995
        return (
          <div key={displayId} className="cell">
            <BlackScale
              own={m.black}
              common={ground.black}
              all={blacks}
              holds={holds}
              lifted={set.black === 'common'}
            />
            <p>
              <span className={holds ? 'fig asks' : 'fig'}>{m.black.toFixed(3)}</span>{' '}
              <span className="small quiet">{lasts(m.daysLeft)}</span>
            </p>
          </div>
        )
      })}
    </>
  )
}

const knownWords = (light: Standing['lights'][number] | undefined): string | null =>
  !light
    ? null
    : light.at === null || !light.light
      ? 'brightest never read'
      : `light ${light.state} ${formatDay(light.at)}`

const lasts = (days: number | null) =>
  days === null || days > 1500 ? '' : days < 1 ? 'its light is gone' : `light for ${Math.round(days)} d`

function Heading({ of, unit, says }: { of: string; unit: string; says: string }) {
  return (
    <div className="groundhead" title={says}>
      {of} <span className="small quiet">{unit}</span>
      <span className="visually-hidden">: {says}</span>
    </div>
  )
}

/** Own triangle as a line, the shared one as an area, in u′v′ with one scale for both axes. */
function Triangles({ own, shared, holds }: { own: Primaries; shared: Primaries; holds: boolean }) {
  const at = (p: Primaries) =>
    [p.red, p.green, p.blue]
      .map(convertChromaticityToUv)
      .map(({ u, v }) => `${(4 + (u - 0.03) * 150).toFixed(2)},${(70 - (v - 0.1) * 140).toFixed(2)}`)
      .join(' ')
  return (
    <svg viewBox="0 0 92 74" height={60} role="img" aria-label="Own triangle around the shared one in u′v′">
      <polygon points={at(shared)} className="band" />
      <polygon points={at(shared)} className="bandedge" fill="none" />
      <polygon points={at(own)} className={holds ? 'outline holds' : 'outline'} />
    </svg>
  )
}

/** Blacks by their logarithm, rising to the right; one without light stands at the left end. */
function BlackScale({
  own,
  common,
  all,
  holds,
  lifted,
}: {
  own: number
  common: number
  all: readonly number[]
  holds: boolean
  lifted: boolean
}) {
  const lit = all.filter((b) => b > 1e-4)
  const [least, most] = lit.length ? [Math.min(...lit) / 2, Math.max(...lit) * 1.3] : [1e-3, 1]
  const x = (black: number) =>
    black <= least ? 3 : 3 + (94 * Math.log(black / least)) / Math.max(1e-6, Math.log(most / least))
  return (
    <svg
      viewBox={`0 0 100 ${low}`}
      height={low}
      role="img"
      aria-label={`Black ${own.toFixed(3)} cd/m², the set’s ${common.toFixed(3)}`}
    >
      <path d={`M0 ${low / 2}H100`} className="axis" />
      {lifted && <rect x={x(common)} width={100 - x(common)} y="0" height={low} className="band" />}
      <rect x={x(own) - 2} width="4" y={low / 2 - 5} height="10" className={holds ? 'reach holds' : 'reach'} />
    </svg>
  )
}
