import { Select } from 'antd'
import { roleCovers } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend, useSession, useSettings } from '../api/queries'

const choices = [0.02, 0.05, 0.1, 0.2, 0.3]
const inPercent = (chance: number) => `${Math.round(100 * chance)} %`

/** The chance of being outside that the studio accepts; an administrator may set another. */
export function AcceptedChance() {
  const settings = useSettings().data
  const may = roleCovers(useSession().data?.account?.role ?? 'viewer', 'administrator')
  const save = useSend((accepted: number) => ask('PUT', '/settings', { ...settings, accepted }))
  if (!settings) return null
  if (!may) return <>{inPercent(settings.accepted)}</>
  return (
    <Select
      size="small"
      aria-label="Accepted chance of being outside"
      value={settings.accepted}
      popupMatchSelectWidth={false}
      onChange={(value) => save.mutate(value)}
      options={[...new Set([...choices, settings.accepted])]
        .sort((a, b) => a - b)
        .map((value) => ({ value, label: inPercent(value) }))}
    />
  )
}
