import { Checkbox, Select } from 'antd'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { Characterization } from '@bichroma/core/characterization'
import { standardPrimaries, type StandardPrimaries } from '@bichroma/core/color'
import {
  compareSolids,
  surfaceOfAim,
  surfaceOfDisplay,
  surfaceOfEncoding,
  trianglesOutside,
} from '@bichroma/core/gamut'
import type { RunReview } from '@bichroma/contract'
import { useCharacterization } from '../useCharacterization'
import { GamutScene, type Volume } from './gamutScene'

type Beside = 'aim' | StandardPrimaries | 'before'

/** Gamuts in CIELAB, to be turned by hand: what was measured as a body, another as a net, and what sticks out of it marked. */
export default function GamutView({ review }: { review: RunReview }) {
  const { characterization, problem } = useCharacterization(review.metrics)
  if (problem) return <p className="none">{problem}</p>
  if (!characterization) return <p className="none">Working out the gamut…</p>
  return <Gamut review={review} characterization={characterization} />
}

function Gamut({ review, characterization }: { review: RunReview; characterization: Characterization }) {
  const [beside, setBeside] = useState<Beside>('aim')
  const [third, setThird] = useState<Beside | 'none'>('none')
  const [showOutside, setShowOutside] = useState(true)
  const before = useCharacterization(review.previous?.metrics ?? null).characterization
  const measured = useMemo(() => surfaceOfDisplay(characterization), [characterization])
  const surfaces = useMemo(() => {
    const of = (which: Beside) =>
      which === 'aim'
        ? review.resolvedAim && surfaceOfAim(review.resolvedAim)
        : which === 'before'
          ? before && surfaceOfDisplay(before)
          : surfaceOfEncoding(which)
    return { other: of(beside), third: third === 'none' ? null : of(third) }
  }, [beside, third, review, before])
  const comparison = surfaces.other && compareSolids(measured.solid, surfaces.other.solid)
  const volumes = useMemo((): Volume[] => {
    const { other, third: more } = surfaces
    return [
      { surface: measured, look: 'body' },
      ...(other ? [{ surface: other, look: 'net' as const }] : []),
      ...(more ? [{ surface: more, look: 'faint' as const }] : []),
      ...(other && showOutside
        ? [{ triangles: trianglesOutside(other, measured.solid), look: 'outside' as const }]
        : []),
    ]
  }, [measured, surfaces, showOutside])
  const names: Record<Beside, string> = {
    aim: 'the aim',
    before: 'the validation before',
    ...(Object.fromEntries(Object.keys(standardPrimaries).map((n) => [n, n])) as Record<StandardPrimaries, string>),
  }
  const options = (Object.keys(names) as Beside[])
    .filter((n) => n !== 'before' || review.previous)
    .map((value) => ({ value, label: names[value] }))
  return (
    <div className="gamutview">
      <Scene volumes={volumes} says={`Measured gamut in CIELAB beside ${names[beside]}`} />
      <div className="gamutside">
        <label>
          As a net
          <Select<Beside> aria-label="Gamut shown as a net" value={beside} onChange={setBeside} options={options} />
        </label>
        <label>
          And faintly
          <Select<Beside | 'none'>
            aria-label="Third gamut"
            value={third}
            onChange={setThird}
            options={[{ value: 'none', label: 'nothing' }, ...options.filter((o) => o.value !== beside)]}
          />
        </label>
        <Checkbox checked={showOutside} onChange={(e) => setShowOutside(e.target.checked)}>
          Mark what the display cannot show
        </Checkbox>
        {comparison && (
          <table className="figures">
            <tbody>
              <tr>
                <td>Volume covered</td>
                <td className="fig">{comparison.coverage.toFixed(1)} %</td>
              </tr>
              <tr>
                <td>Volume ratio</td>
                <td className="fig">{comparison.volumeRatio.toFixed(1)} %</td>
              </tr>
            </tbody>
          </table>
        )}
        {comparison && (
          <p className="second small">
            {comparison.missing.length
              ? `Most is missing at hues ${comparison.missing[0].hueFrom}–${comparison.missing[0].hueTo}°: up to ${comparison.missing[0].chromaShort.toFixed(0)} of chroma at L* ${comparison.missing[0].lightness.toFixed(0)}.`
              : `Nothing of ${names[beside]} is missing.`}
          </p>
        )}
        <p className="quiet small">
          Body: measured. Turn with the mouse or the arrow keys; + and − come nearer and go away.
        </p>
      </div>
    </div>
  )
}

/** Whether the browser draws in three dimensions. */
const hasWebGl = () => document.createElement('canvas').getContext('webgl2') !== null

function Scene({ volumes, says }: { volumes: readonly Volume[]; says: string }) {
  const host = useRef<HTMLDivElement>(null)
  const scene = useRef<GamutScene | null>(null)
  const [possible] = useState(hasWebGl)
  useEffect(() => {
    if (!host.current || !possible) return
    scene.current = new GamutScene(host.current)
    return () => {
      scene.current?.dispose()
      scene.current = null
    }
  }, [possible])
  useEffect(() => scene.current?.show(volumes), [volumes])
  return (
    <div
      ref={host}
      className="gamutscene"
      role="img"
      aria-label={says}
      tabIndex={0}
      onKeyDown={(e) => {
        if (scene.current?.key(e.key)) e.preventDefault()
      }}
    >
      {!possible && (
        <p className="none">
          This browser draws nothing in three dimensions (WebGL is off). The figures beside tell the same.
        </p>
      )}
    </div>
  )
}
