import { Progress, Segmented, Select } from 'antd'
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { PatchReading } from '@bichroma/core/color'
import { testPictureNames, testPictures, type TestPicture } from '@bichroma/core/review'
import type { RunReview } from '@bichroma/contract'
import { ChooseFile } from '../../parts/ChooseFile'
import { formatDay } from '../../parts/times'
import type { Look, PictureAnswer, PictureRequest, ShownState } from './messages'
import { usePictureWorker } from './usePictureWorker'

type Looking = 'divider' | 'map'

const readingsOf = (metrics: RunReview['metrics']): PatchReading[] =>
  metrics.patches.map(({ name, rgb, xyz }) => ({ name, rgb, xyz }))

/** Pictures as the display showed them before, shows them after, and as the aim wants, worked out from what was read. */
export default function Pictures({ review }: { review: RunReview }) {
  const { resolvedAim: aim } = review
  if (!aim) return <p className="none">This run kept no aim to compare with.</p>
  const before = review.baseline ?? review.previous?.metrics ?? null
  const stateWords: Record<ShownState, string> = {
    before: review.baseline
      ? 'before, tables bypassed'
      : review.previous
        ? `at the validation of ${formatDay(review.previous.run.judged!.at)}`
        : 'before',
    after: review.baseline ? 'after this run' : 'as this validation read it',
    aim: 'as the aim wants',
  }
  const states: readonly ShownState[] = before ? ['before', 'after', 'aim'] : ['after', 'aim']
  return (
    <PicturesOf
      open={{ aim, after: readingsOf(review.metrics), before: before && readingsOf(before) }}
      states={states}
      stateWords={stateWords}
    />
  )
}

function PicturesOf({
  open,
  states,
  stateWords,
}: {
  open: Omit<Extract<PictureRequest, { kind: 'open' }>, 'kind' | 'surfaces'>
  states: readonly ShownState[]
  stateWords: Record<ShownState, string>
}) {
  const [picture, setPicture] = useState<{ test: TestPicture } | { file: File }>({ test: 'skin' })
  const [left, setLeft] = useState<ShownState>(states[0])
  const [right, setRight] = useState<ShownState>(states[1])
  const [looking, setLooking] = useState<Looking>('divider')
  const [at, setAt] = useState(0.5)
  const [look, setLook] = useState<Look>({ kind: 'whole' })
  const { stage, answer, shown, ask } = usePictureWorker(open)
  useEffect(() => ask({ picture, left, right, look }), [ask, picture, left, right, look])
  const options = states.map((value) => ({ value, label: stateWords[value] }))
  return (
    <div className="pictures">
      <div className="picturebar">
        <Select<TestPicture | 'file'>
          aria-label="Picture shown"
          value={'test' in picture ? picture.test : 'file'}
          onChange={(value) => value !== 'file' && setPicture({ test: value })}
          style={{ width: 168 }}
          options={[
            ...testPictureNames.map((value) => ({ value, label: testPictures[value].label })),
            ...('file' in picture ? [{ value: 'file' as const, label: picture.file.name }] : []),
          ]}
        />
        <ChooseFile
          label="Picture of your own"
          accept="image/png,image/jpeg,image/tiff,.tif,.tiff"
          most={600_000_000}
          onChoose={(file) => setPicture({ file })}
        >
          Open a picture
        </ChooseFile>
        <Segmented<Looking>
          aria-label="What is shown of the picture"
          value={looking}
          onChange={setLooking}
          options={[
            { value: 'divider', label: 'Two sides' },
            { value: 'map', label: 'Where they differ' },
          ]}
        />
        <Segmented<Look['kind']>
          aria-label="How much of the picture is shown"
          value={look.kind}
          onChange={(kind) => setLook(kind === 'whole' ? { kind } : { kind, x: 0.5, y: 0.5 })}
          options={[
            { value: 'whole', label: 'Whole' },
            { value: 'pixels', label: 'Pixel by pixel' },
          ]}
        />
      </div>
      <div className="picturestage" ref={stage} {...panning(look, setLook, shown)}>
        <div data-side="left" className="surface" aria-hidden />
        <div data-side="right" className="surface" style={{ clipPath: `inset(0 0 0 ${100 * at}%)` }} aria-hidden />
        <div
          data-side="map"
          className="surface"
          style={{ visibility: looking === 'map' ? 'visible' : 'hidden' }}
          aria-hidden
        />
        {looking === 'divider' && shown && <Divider at={at} onMove={setAt} />}
        <Overlay answer={answer} />
      </div>
      {looking === 'divider' ? (
        <div className="sides">
          <label>
            Left shows
            <Select<ShownState> aria-label="Shown on the left" value={left} onChange={setLeft} options={options} />
          </label>
          <span className="quiet small" style={{ textAlign: 'center' }} aria-live="polite">
            {shown && (
              <>
                on average {shown.average.toFixed(2)} ΔE2000 apart
                <br />
                {sizeWords(shown)}, {(shown.tookMs / 1000).toFixed(1)} s
              </>
            )}
          </span>
          <label>
            Right shows
            <Select<ShownState> aria-label="Shown on the right" value={right} onChange={setRight} options={options} />
          </label>
        </div>
      ) : (
        <p className="second small" style={{ height: 40, overflow: 'hidden' }}>
          Shown is where “{stateWords[left]}” and “{stateWords[right]}” differ: grey not at all, full ochre from ΔE2000
          of {shown?.strongest ?? '…'}.{' '}
          {'test' in picture && `This picture holds ${testPictures[picture.test].looksAt}.`}
        </p>
      )}
    </div>
  )
}

const sizeWords = ({ width, height }: { width: number; height: number }) =>
  width * height >= 1e6 ? `${((width * height) / 1e6).toFixed(1)} million pixels` : `${width} × ${height} pixels`

/** Lets a picture that is shown pixel by pixel be moved by hand or by keys. */
function panning(look: Look, setLook: (look: Look) => void, shown: Extract<PictureAnswer, { kind: 'shown' }> | null) {
  if (look.kind === 'whole' || !shown) return {}
  const clamp = (v: number) => Math.min(1, Math.max(0, v))
  const move = (dx: number, dy: number) =>
    setLook({ kind: 'pixels', x: clamp(look.x + dx / shown.width), y: clamp(look.y + dy / shown.height) })
  const steps: Readonly<Record<string, readonly [number, number]>> = {
    ArrowLeft: [-80, 0],
    ArrowRight: [80, 0],
    ArrowUp: [0, -80],
    ArrowDown: [0, 80],
  }
  return {
    tabIndex: 0,
    role: 'group',
    'aria-label': 'Picture, pixel by pixel; arrow keys move it',
    style: { cursor: 'grab' },
    onPointerMove: (e: PointerEvent<HTMLDivElement>) => {
      if (e.buttons === 1 && !(e.target as HTMLElement).closest('.divider')) move(-e.movementX, -e.movementY)
    },
    onKeyDown: (e: KeyboardEvent<HTMLDivElement>) => {
      const step = steps[e.key]
      if (!step || (e.target as HTMLElement).closest('.divider')) return
      e.preventDefault()
      move(...step)
    },
  }
}

function Divider({ at, onMove }: { at: number; onMove: (at: number) => void }) {
  const line = useRef<HTMLDivElement>(null)
  const clamp = (v: number) => Math.min(1, Math.max(0, v))
  const to = (clientX: number) => {
    const box = line.current!.parentElement!.getBoundingClientRect()
    onMove(clamp((clientX - box.left) / box.width))
  }
  return (
    <div
      ref={line}
      className="divider"
      style={{ left: `${100 * at}%` }}
      role="slider"
      tabIndex={0}
      aria-label="Divider between left and right"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(100 * at)}
      onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
      onPointerMove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && to(e.clientX)}
      onKeyDown={(e) => {
        const moves: Readonly<Record<string, number>> = { ArrowLeft: at - 0.02, ArrowRight: at + 0.02, Home: 0, End: 1 }
        if (!(e.key in moves)) return
        e.preventDefault()
        onMove(clamp(moves[e.key]))
      }}
    >
      <i aria-hidden />
    </div>
  )
}

function Overlay({ answer }: { answer: PictureAnswer | null }) {
  if (answer?.kind === 'shown') return null
  return (
    <div className="pictureoverlay" role={answer?.kind === 'failed' ? 'alert' : 'status'}>
      {answer?.kind === 'failed' ? (
        answer.sentence
      ) : (
        <>
          {answer?.doing ?? 'Opening the picture'}
          <Progress
            percent={Math.round(100 * (answer?.kind === 'progress' ? answer.share : 0))}
            showInfo={false}
            size="small"
            aria-label="How far the picture is"
          />
        </>
      )}
    </div>
  )
}
