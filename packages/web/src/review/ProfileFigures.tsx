import { Segmented } from 'antd'
import { useMemo, useState } from 'react'
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { profileCurves, readIccProfile, type ProfileCurves } from '@bichroma/core/profiles'
import { axis, grid, label, namedSignalAxis, tooltip } from '../charts/chartStyle'

const channels = [
  { key: 'red', dash: undefined, color: '#c0504d' },
  { key: 'green', dash: '6 3', color: '#4f9a52' },
  { key: 'blue', dash: '2 3', color: '#5b7fc7' },
] as const

/** A profile's curves, channel by channel: those of its tones, and those of the video card where it carries some. */
export function ProfileFigures({ bytes }: { bytes: Uint8Array }) {
  const curves = useMemo(() => profileCurves(readIccProfile(bytes)), [bytes])
  const [shown, setShown] = useState(0)
  const set: ProfileCurves | undefined = curves[Math.min(shown, curves.length - 1)]
  if (!set) return <p className="none">This profile holds no curves.</p>
  const points = set.levels.map((level, i) => ({
    level: 100 * level,
    ...Object.fromEntries(channels.map(({ key }, c) => [key, 100 * set.channels[c][i]])),
  }))
  return (
    <div className="profilefigures">
      <div style={{ display: 'flex', gap: 12, alignItems: 'center', padding: '2px 12px' }}>
        {curves.length > 1 && (
          <Segmented
            size="small"
            aria-label="Curves shown"
            value={curves.indexOf(set)}
            onChange={setShown}
            options={curves.map((c, value) => ({ value, label: c.name }))}
          />
        )}
        <span className="second small">{set.says}</span>
      </div>
      <ResponsiveContainer width="100%" height="92%">
        <LineChart data={points} margin={{ top: 12, right: 16, bottom: 16, left: -4 }}>
          <CartesianGrid {...grid} />
          <XAxis {...namedSignalAxis} />
          <YAxis
            domain={[0, 100]}
            ticks={[0, 25, 50, 75, 100]}
            {...axis}
            label={{ value: `${set.axis}, %`, angle: -90, position: 'insideLeft', offset: 16, ...label }}
          />
          <Tooltip
            {...tooltip}
            labelFormatter={(v) => `signal ${Number(v).toFixed(1)} %`}
            formatter={(v) => `${Number(v).toFixed(2)} %`}
          />
          {channels.map(({ key, dash, color }) => (
            <Line
              key={key}
              dataKey={key}
              stroke={color}
              strokeWidth={1.5}
              strokeDasharray={dash}
              dot={false}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </div>
  )
}
