import { Form, Segmented } from 'antd'
import { ownProfilePatches } from '@bichroma/core/profiles'
import type { ProfilePolicy } from '@bichroma/contract'

/** What the profile is to be. */
export function ProfileChoice({
  profile,
  onChange,
}: {
  profile: ProfilePolicy
  onChange: (profile: ProfilePolicy) => void
}) {
  const set = (change: Partial<ProfilePolicy>) => onChange({ ...profile, ...change })
  return (
    <Form.Item label="Profile" extra={sentenceOf(profile)}>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 6 }}>
        <Segmented<2 | 4>
          block
          aria-label="Version of the profile"
          value={profile.version}
          onChange={(version) => set({ version })}
          options={[
            { value: 4, label: 'version 4' },
            { value: 2, label: 'version 2' },
          ]}
        />
        <Segmented<ProfilePolicy['kind']>
          block
          aria-label="Kind of profile"
          value={profile.kind}
          onChange={(kind) => set({ kind })}
          options={['matrix', 'table']}
        />
        <Segmented<ProfilePolicy['black']>
          block
          aria-label="Black of the profile"
          value={profile.black}
          onChange={(black) => set({ black })}
          options={[
            { value: 'measured', label: 'its black' },
            { value: 'none', label: 'no black' },
          ]}
        />
        <Segmented<ProfilePolicy['readings']>
          block
          aria-label="Readings of the profile"
          value={profile.readings}
          onChange={(readings) => set({ readings })}
          options={[
            { value: 'prove', label: 'from Prove' },
            { value: 'own', label: 'own set' },
          ]}
        />
      </div>
    </Form.Item>
  )
}

function sentenceOf({ version, kind, black, readings }: ProfilePolicy): string {
  return [
    version === 2 ? 'for programs that read nothing newer' : 'the newest version',
    kind === 'matrix' ? 'small and fast' : 'more exact, larger',
    black === 'measured' ? 'tells the black as it was read' : 'counts from black',
    readings === 'prove' ? 'no further readings' : `${ownProfilePatches().length} more readings`,
  ].join('; ')
}
