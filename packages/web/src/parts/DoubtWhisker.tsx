import type { RuleResult } from '@bichroma/core/aims'
import './doubt.css'

const size = { width: 96, height: 11 }
const middle = size.height / 2

/**
 * Where a figure lies between none and past its hard edge, with a whisker over what it may be. The short tick is the near
 * edge, the tall one the hard edge. Nothing where nothing is known of the doubt: the figures beside it say the same.
 */
export function DoubtWhisker({ rule }: { rule: RuleResult }) {
  const { value, interval, near, hard } = rule
  if (value === null || !interval || !Number.isFinite(value)) return null
  const end = Math.max(1.6 * Math.max(near, hard), Math.min(interval.high, 3 * Math.max(near, hard)))
  const x = (figure: number) => 1 + (size.width - 2) * Math.min(1, Math.max(0, figure / end))
  const goesOn = interval.high > end
  return (
    <svg className="whisker" width={size.width} height={size.height} aria-hidden="true">
      <line x1={0} x2={size.width} y1={middle} y2={middle} className="scale" />
      <line x1={x(near)} x2={x(near)} y1={middle - 2.5} y2={middle + 2.5} className="edge" />
      <line x1={x(hard)} x2={x(hard)} y1={0} y2={size.height} className="edge" />
      <line x1={x(interval.low)} x2={x(interval.high)} y1={middle} y2={middle} className="may" />
      {[interval.low, ...(goesOn ? [] : [interval.high])].map((figure, i) => (
        <line key={i} x1={x(figure)} x2={x(figure)} y1={middle - 2.5} y2={middle + 2.5} className="may" />
      ))}
      <rect x={x(value) - 2} y={middle - 2} width={4} height={4} className="seen" />
    </svg>
  )
}
