import { Select } from 'antd'
import { luminanceForRoom } from '@bichroma/core/aims'
import { useRooms } from '../api/queries'

/** Proposes a luminance from the light of a room: as bright as white paper on the desk there. */
export function FromRoom({ onChoose }: { onChoose: (luminance: number) => void }) {
  const lit = (useRooms().data ?? []).filter((r) => r.newestLight)
  if (!lit.length) return null
  return (
    <Select<number>
      aria-label="Luminance after the light of a room"
      style={{ width: '100%', marginTop: 6 }}
      placeholder="after the light of a room"
      value={null as never}
      popupMatchSelectWidth={false}
      onChange={(id) => onChoose(luminanceForRoom(lit.find((r) => r.id === id)!.newestLight!.illuminanceLux))}
      options={lit.map((r) => {
        const lux = r.newestLight!.illuminanceLux
        return {
          value: r.id,
          label: `${r.name}, ${Math.round(lux)} lx: ${luminanceForRoom(lux)} cd/m², as paper there (0.85 E ÷ π), at least 80`,
        }
      })}
    />
  )
}
