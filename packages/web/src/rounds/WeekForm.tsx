import { Checkbox, Input } from 'antd'
import type { DaySpan } from '@bichroma/core/rounds'

const names = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const usual: DaySpan = { from: '09:00', to: '17:30' }

/** From and to, as times of day are typed: 09:30. */
export function SpanForm({ of, span, onChange }: { of: string; span: DaySpan; onChange: (span: DaySpan) => void }) {
  const input = (end: keyof DaySpan) => (
    <Input
      aria-label={`${of} ${end}`}
      value={span[end]}
      onChange={(e) => onChange({ ...span, [end]: e.target.value })}
      style={{ width: 72 }}
      maxLength={5}
    />
  )
  return (
    <span>
      {input('from')} – {input('to')}
    </span>
  )
}

/** Seven days, Monday first, each with its hours or none. */
export function WeekForm({
  week,
  onChange,
}: {
  week: readonly (DaySpan | null)[]
  onChange: (week: (DaySpan | null)[]) => void
}) {
  const put = (d: number, span: DaySpan | null) => onChange(week.map((s, n) => (n === d ? span : s)))
  return (
    <div className="weekform">
      {names.map((name, d) => (
        <div key={name} style={{ display: 'contents' }}>
          <span>{name}</span>
          <Checkbox
            aria-label={`${name}, work`}
            checked={week[d] !== null}
            onChange={(e) => put(d, e.target.checked ? (week[d - 1] ?? usual) : null)}
          >
            {week[d] ? '' : 'no work'}
          </Checkbox>
          {week[d] ? <SpanForm of={name} span={week[d]} onChange={(span) => put(d, span)} /> : <span />}
        </div>
      ))}
    </div>
  )
}
