import { App, Button, Segmented } from 'antd'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { formatSigned } from '@bichroma/core/aims'
import type { UvPrime } from '@bichroma/core/color'
import { matchSides, matchStart, settleMatch, type MatchRepeat } from '@bichroma/core/peers'
import type { PeerSetDetail } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { Plane } from '../parts/Plane'
import { MatchDiagram } from './MatchDiagram'

/** Repetitions that are asked for before a match is kept. */
const usualRepeats = 3
/** How far one press moves a white, Δu′v′: to find it, and to settle it. */
const steps = { coarse: 0.002, fine: 0.0005 } as const
/** Beyond this nobody is near any more. */
const furthest = 0.03

const lengthOf = ({ u, v }: UvPrime) => Math.hypot(u, v)
/** Whole steps leave no dust behind. */
const moved = (from: UvPrime, du: number, dv: number): UvPrime => ({
  u: Math.round((from.u + du) * 1e5) / 1e5,
  v: Math.round((from.v + dv) * 1e5) / 1e5,
})

/** One press in a direction, as eyes name it. */
const directions = [
  { word: 'Yellower', du: 0, dv: 1, area: 'up', key: 'ArrowUp' },
  { word: 'Greener', du: -1, dv: 0, area: 'left', key: 'ArrowLeft' },
  { word: 'Redder', du: 1, dv: 0, area: 'right', key: 'ArrowRight' },
  { word: 'Bluer', du: 0, dv: -1, area: 'down', key: 'ArrowDown' },
] as const

/** Repetitions of a match, one after another from different sides, and what they come to. */
export function Matching({
  set,
  displayId,
  besideId,
  names,
  onStop,
}: {
  set: PeerSetDetail
  displayId: number
  besideId: number
  names: readonly [string, string]
  onStop: () => void
}) {
  const { message } = App.useApp()
  const navigate = useNavigate()
  const [repeats, setRepeats] = useState<readonly MatchRepeat[]>([])
  const [at, setAt] = useState<UvPrime | null>(null)
  const [isSending, setSending] = useState(false)
  const [step, setStep] = useState<keyof typeof steps>('coarse')
  const [more, setMore] = useState(false)
  const settled = repeats.length > 1 ? settleMatch(repeats) : null
  const isDone = repeats.length >= usualRepeats && !more
  const keep = useSend(async () => {
    await ask('POST', `/peer-sets/${set.id}/matches`, { displayId, besideId, repeats })
    void navigate(`/peers/${set.id}`)
  })

  const show = async (next: UvPrime) => {
    if (isSending) return
    setSending(true)
    try {
      await ask('POST', `/peer-sets/${set.id}/match`, { displayId, besideId, ...next })
      setAt(next)
    } catch (error) {
      // What is shown stays as it was.
      void message.error((error as Error).message)
    } finally {
      setSending(false)
    }
  }
  const begin = (side: number) => void show(matchStart(side))
  const press = ({ du, dv }: (typeof directions)[number]) => {
    const next = at && moved(at, du * steps[step], dv * steps[step])
    if (next && lengthOf(next) <= furthest) void show(next)
  }
  const settle = () => {
    if (!at || isSending) return
    const all = [...repeats, { side: repeats.length, u: at.u, v: at.v }]
    setRepeats(all)
    setMore(false)
    setAt(null)
    setStep('coarse')
    if (all.length < usualRepeats) begin(all.length)
  }
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const found = directions.find((d) => d.key === event.key)
      if (!found || (event.target as HTMLElement).closest('.ant-select, .ant-segmented, input')) return
      event.preventDefault()
      press(found)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })
  const [name, beside] = names
  return (
    <Plane
      title={`${name} beside ${beside}`}
      aside={
        isDone
          ? `${repeats.length} repetitions`
          : `repetition ${repeats.length + 1} of ${Math.max(usualRepeats, repeats.length + 1)}`
      }
    >
      {isDone && settled ? (
        <div className="matched">
          <MatchDiagram repeats={repeats} />
          <div style={{ display: 'grid', gap: 8, alignContent: 'start' }}>
            <p>
              They look alike where {name} is moved by u′ <span className="fig">{formatSigned(settled.u, 4)}</span>, v′{' '}
              <span className="fig">{formatSigned(settled.v, 4)}</span>.
            </p>
            <p className="second">
              Repetitions scatter by <span className="fig">{settled.scatter.toFixed(4)}</span>, so that their mean is
              known to <span className="fig">± {(2 * settled.doubt).toFixed(4)}</span>.
            </p>
            {lengthOf(settled) < 2 * settled.doubt && (
              <p className="asks">That is no more than chance: these two look as alike as they measure.</p>
            )}
            <p className="small quiet">
              {set.aim
                ? `Keeping it makes ${name} an aim of its own, the set’s with this white; its next run calibrates to it.`
                : `Once common ground is adopted, ${name} gets an aim of its own from it.`}
            </p>
            <span style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
              <Button type="primary" loading={keep.isPending} onClick={() => keep.mutate(undefined)}>
                Keep this match
              </Button>
              {repeats.length < matchSides && (
                <Button
                  onClick={() => {
                    setMore(true)
                    begin(repeats.length)
                  }}
                >
                  Once more
                </Button>
              )}
              <Button onClick={onStop}>Throw it away</Button>
            </span>
          </div>
        </div>
      ) : (
        <div className="matchform ringform">
          {at ? (
            <>
              <p>
                Both show white. Move that of <b style={{ fontWeight: 500 }}>{name}</b> until nobody could say which is
                which.
              </p>
              <div className="matchpad" role="group" aria-label={`Move the white of ${name}`}>
                {directions.map((d) => (
                  <Button key={d.word} style={{ gridArea: d.area }} size="large" onClick={() => press(d)}>
                    {d.word}
                  </Button>
                ))}
                <Segmented
                  aria-label="Step"
                  style={{ gridArea: 'middle', justifySelf: 'center' }}
                  value={step}
                  onChange={setStep}
                  options={[
                    { value: 'coarse', label: 'Coarse' },
                    { value: 'fine', label: 'Fine' },
                  ]}
                />
              </div>
              <p className="small quiet">
                Arrow keys do the same. Figures are not shown until a repetition is done, and each begins from another
                side.
              </p>
              <span style={{ display: 'flex', gap: 8 }}>
                <Button type="primary" onClick={settle} disabled={isSending}>
                  They look alike
                </Button>
                <Button onClick={onStop}>Stop</Button>
              </span>
            </>
          ) : (
            <>
              <p>
                {name} and {beside} will show white over the whole screen, one of them moved off to a side.
              </p>
              <span style={{ display: 'flex', gap: 8 }}>
                <Button type="primary" loading={isSending} onClick={() => begin(repeats.length)}>
                  Show both whites
                </Button>
                <Button onClick={onStop}>Stop</Button>
              </span>
            </>
          )}
        </div>
      )}
    </Plane>
  )
}
