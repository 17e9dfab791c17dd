/** How every chart is drawn: measured solid, aim thin and dark, previous dashed, tolerance shaded. */
export const axis = {
  stroke: 'var(--line)',
  tick: { fill: 'var(--text-3)', fontSize: 11, fontFamily: '"Spline Sans Mono Variable", monospace' },
  tickLine: false,
} as const
export const grid = { stroke: 'var(--line-quiet)', vertical: false } as const
export const label = { fill: 'var(--text-3)', fontSize: 11 } as const
export const measuredLine = {
  stroke: 'var(--text)',
  strokeWidth: 1.8,
  dot: false,
  isAnimationActive: false,
  type: 'linear',
} as const
export const aimLine = {
  stroke: 'var(--text-3)',
  strokeWidth: 1,
  dot: false,
  isAnimationActive: false,
  type: 'linear',
} as const
export const previousLine = {
  stroke: 'var(--text-2)',
  strokeWidth: 1.2,
  strokeDasharray: '4 4',
  dot: false,
  isAnimationActive: false,
  type: 'linear',
} as const
export const band = {
  fill: 'var(--line)',
  fillOpacity: 0.5,
  stroke: 'none',
  isAnimationActive: false,
  type: 'linear',
} as const
export const tooltip = {
  contentStyle: {
    background: 'var(--raised)',
    border: '1px solid var(--line)',
    borderRadius: 2,
    fontSize: 12,
    color: 'var(--text)',
  },
  itemStyle: { color: 'var(--text)' },
  labelStyle: { color: 'var(--text-2)' },
  isAnimationActive: false,
  cursor: { stroke: 'var(--line)' },
} as const
/** A level as it is told beside the pointer: a percentage to one digit. */
export const signalLabel = (level: unknown) => `signal ${Number(Number(level).toFixed(1))} %`

/** Signals along the bottom of a chart, 0–100 %; with its name, where nothing else stands below. */
export const signalAxis = {
  dataKey: 'level',
  type: 'number',
  domain: [0, 100] as number[],
  ticks: [0, 25, 50, 75, 100] as number[],
  ...axis,
} as const
export const namedSignalAxis = {
  ...signalAxis,
  label: { value: 'signal, %', position: 'insideBottom', offset: -10, ...label },
} as const
