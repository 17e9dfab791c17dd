import { Button, DatePicker, Popconfirm, Popover } from 'antd'
import dayjs, { type Dayjs } from 'dayjs'
import { useState } from 'react'
import { formatSigned } from '@bichroma/core/aims'
import type { InstrumentOffsetTold, OffsetState, Ring } from '@bichroma/contract'
import { ask } from '../api/client'
import { useInstrumentOffsets, useSend } from '../api/queries'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'

const stateWords: Readonly<Record<OffsetState, string>> = {
  weighing: 'being weighed',
  weighed: 'weighed, nothing has changed',
  taking: 'being taken into account',
  taken: 'taken into account',
  ending: 'being put away',
  ended: 'put away',
}

/** What instruments read more: what taking it into account would change, and that it is. */
export function Offsets({ mayDecide }: { mayDecide: boolean }) {
  const offsets = useInstrumentOffsets().data ?? []
  if (!offsets.length) return null
  return (
    <Plane title="Offsets of instruments" aside="readings stay as they are">
      <ul className="looks offsets">
        {offsets.map((offset) => (
          <Offset key={offset.id} offset={offset} mayDecide={mayDecide} />
        ))}
      </ul>
    </Plane>
  )
}

/** What an offset is, in a sentence. */
export function offsetSentence({ instrument, luminance, within, u, v, since, source }: InstrumentOffsetTold): string {
  const way = luminance > 0 ? 'bright' : 'dark'
  const hue = Math.hypot(u, v) >= 0.00005 ? `, u′ ${formatSigned(u, 4)}, v′ ${formatSigned(v, 4)}` : ''
  return `${instrument} has read ${(100 * Math.abs(luminance)).toFixed(1)}\u00a0% ± ${(100 * within).toFixed(1)} ${way}${hue} since ${source === 'checks' ? 'about ' : ''}${formatDay(since)}`
}

/** Whether an offset is no more than its own intervals. */
const mayBeChance = ({ luminance, within, u, v, withinUv }: InstrumentOffsetTold): boolean =>
  Math.abs(luminance) <= within && Math.max(Math.abs(u), Math.abs(v)) <= withinUv

/** How many verdicts are, or would be, others. */
export function othersWords({ state, runs, others }: InstrumentOffsetTold): string {
  const of = `of ${runs} ${runs === 1 ? 'validation' : 'validations'}`
  const counts = others === 0 ? 'no verdict' : others === 1 ? '1 verdict' : `${others} verdicts`
  if (state === 'weighing') return `${counts} ${of} so far would be ${others === 1 ? 'another' : 'others'}`
  if (state === 'weighed') return `${counts} ${of} would be ${others === 1 ? 'another' : 'others'}`
  return `${counts} ${of} ${others === 1 || others === 0 ? 'is' : 'are'} ${others === 1 ? 'another' : 'others'} than as read`
}

function Offset({ offset, mayDecide }: { offset: InstrumentOffsetTold; mayDecide: boolean }) {
  const { id, state } = offset
  const take = useSend(() => ask('POST', `/instrument-offsets/${id}/take`))
  const end = useSend(() => ask('POST', `/instrument-offsets/${id}/end`))
  const isOver = state === 'ending' || state === 'ended'
  const wasTaken = offset.takenAt !== null
  return (
    <li className={isOver ? 'quiet' : undefined}>
      <span>
        {offsetSentence(offset)}
        {mayBeChance(offset) && ', which may be chance'}
        {state !== 'ended' && <>: {othersWords(offset)}</>}.
      </span>
      <span className="small second">
        {state === 'taking' || state === 'weighing' ? (
          <span className="runs">{stateWords[state]}</span>
        ) : (
          stateWords[state]
        )}
        {state === 'taking' && `, ${offset.judged} of ${offset.runs}`}
        {wasTaken && !isOver && ` by ${offset.takenBy} on ${formatDay(offset.takenAt!)}`}
        {isOver && offset.endedBy && ` by ${offset.endedBy} on ${formatDay(offset.endedAt!)}`}
        {offset.renewedAt !== null &&
          !isOver &&
          `; not for what it has read since its certificate of ${formatDay(offset.renewedAt)}`}
      </span>
      {mayDecide && !isOver && (
        <span style={{ display: 'flex', gap: 8, marginTop: 4 }}>
          {state === 'weighed' && (
            <Popconfirm
              title="Take this offset into account?"
              description={`${offset.runs} validations are judged anew and later ones as well. What they came to as they were read is kept beside it, and reports tell both.`}
              okText="Take into account"
              onConfirm={() => take.mutate(undefined)}
            >
              <Button size="small" type={mayBeChance(offset) ? 'default' : 'primary'}>
                Take into account
              </Button>
            </Popconfirm>
          )}
          <Popconfirm
            title={wasTaken ? 'Put this offset away?' : 'Throw this away?'}
            description={
              wasTaken
                ? 'What was judged anew comes to what it was read as. What was read with it taken out stays.'
                : 'Nothing has changed by it.'
            }
            okText={wasTaken ? 'Put it away' : 'Throw it away'}
            onConfirm={() => end.mutate(undefined)}
          >
            <Button size="small">{wasTaken ? 'Put away' : 'Throw away'}</Button>
          </Popconfirm>
        </span>
      )}
    </li>
  )
}

/** Weighs what a ring tells of an instrument, from a day on. */
export function WeighOffset({ ring, instrumentId, name }: { ring: Ring; instrumentId: number; name: string }) {
  const [open, setOpen] = useState(false)
  const [since, setSince] = useState<Dayjs | null>(dayjs(ring.startedAt).startOf('day'))
  const weigh = useSend(async () => {
    await ask('POST', '/instrument-offsets', {
      ...{ instrumentId, source: 'ring', ringId: ring.id, since: since!.valueOf() },
    })
    setOpen(false)
  })
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      placement="bottomRight"
      title={`What ${name} reads more`}
      content={
        <div style={{ display: 'grid', gap: 8, maxWidth: 260 }}>
          <label>
            <span className="small second">It is taken to have read so since</span>
            <DatePicker
              aria-label="It is taken to have read so since"
              value={since}
              onChange={setSince}
              format="D MMM YYYY"
              maxDate={dayjs()}
              allowClear={false}
              style={{ width: '100%' }}
            />
          </label>
          <p className="small quiet">How many verdicts would be others is worked out; nothing changes yet.</p>
          <Button type="primary" loading={weigh.isPending} onClick={() => weigh.mutate(undefined)}>
            Weigh it
          </Button>
        </div>
      }
    >
      <Button size="small" aria-label={`Weigh the offset of ${name}`}>
        Weigh
      </Button>
    </Popover>
  )
}
