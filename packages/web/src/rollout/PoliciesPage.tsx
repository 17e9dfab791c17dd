import { Button, Modal, Select, Segmented } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { ruleNames, usualRules, type PolicyLevel, type Rules } from '@bichroma/core/rollout'
import type { PolicyListing } from '@bichroma/contract'
import { ask } from '../api/client'
import { useAims, usePolicies, useRooms, useSend, useSession, useSettings } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { DisplayPicker } from '../parts/Picker'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { NamesAndNights } from './NamesAndNights'
import { answerWords, rulesInWords } from './words'
import './rollout.css'

type Editing = Pick<PolicyListing, 'level' | 'of' | 'name' | 'rules'>

/** What shall hold: for the studio, and nearer by aim, room and display. */
export function PoliciesPage() {
  const [editing, setEditing] = useState<Editing | null>(null)
  const [adding, setAdding] = useState(false)
  const [naming, setNaming] = useState(false)
  const settings = useSettings().data
  const admin = useSession().data?.account?.role === 'administrator'
  return (
    <>
      <div className="top">
        <div>
          <h1>Policies</h1>
          <p>
            <Link to="/rollout">Rollout</Link> · rule by rule the nearest holds: a display’s own, then its room’s, then
            its aim’s, then the studio’s
          </p>
        </div>
        {admin && (
          <div className="acts">
            {settings && <Button onClick={() => setNaming(true)}>Names and nights…</Button>}
            {naming && settings && <NamesAndNights settings={settings} onClose={() => setNaming(false)} />}
            <Button onClick={() => setAdding(true)}>Add policy</Button>
          </div>
        )}
      </div>
      <Loaded query={usePolicies()}>
        {(policies) => {
          const studio = policies.find((p) => p.level === 'studio')
          return (
            <div className="policies">
              <Plane
                title="The studio"
                aside={
                  studio ? `changed ${formatDay(studio.changedAt)} by ${studio.changedBy}` : 'as Bichroma begins with'
                }
              >
                <RulesTold
                  rules={{ ...usualRules, ...studio?.rules }}
                  given={studio?.rules ?? {}}
                  onChange={
                    admin
                      ? () => setEditing(studio ?? { level: 'studio', of: 0, name: 'the studio', rules: {} })
                      : undefined
                  }
                />
              </Plane>
              <div>
                {policies
                  .filter((p) => p.level !== 'studio')
                  .map((p) => (
                    <Plane
                      key={`${p.level} ${p.of}`}
                      title={`${levelWords[p.level]} ${p.name}`}
                      aside={`changed ${formatDay(p.changedAt)} by ${p.changedBy}`}
                    >
                      <RulesTold rules={p.rules} given={p.rules} onChange={admin ? () => setEditing(p) : undefined} />
                    </Plane>
                  ))}
              </div>
            </div>
          )
        }}
      </Loaded>
      {adding && (
        <ChooseSubject
          onClose={() => setAdding(false)}
          onChosen={(chosen) => {
            setAdding(false)
            setEditing(chosen)
          }}
        />
      )}
      {editing && <EditPolicy policy={editing} onClose={() => setEditing(null)} />}
    </>
  )
}

const levelWords: Readonly<Record<PolicyLevel, string>> = {
  display: 'Display',
  room: 'Room',
  aim: 'Aim',
  studio: 'The studio',
}

function RulesTold({
  rules,
  given,
  onChange,
}: {
  rules: Partial<Rules>
  given: Partial<Rules>
  onChange?: () => void
}) {
  return (
    <div style={{ padding: '0 12px 12px' }}>
      <dl className="facts wide">
        {ruleNames
          .filter((name) => rules[name] !== undefined)
          .map((name) => (
            <div key={name} style={{ display: 'contents' }}>
              <dt>{rulesInWords[name].asks}</dt>
              <dd className={given[name] === undefined ? 'quiet' : ''}>{answerWords(name, rules[name]!)}</dd>
            </div>
          ))}
      </dl>
      {onChange && (
        <Button size="small" onClick={onChange}>
          Change rules
        </Button>
      )}
    </div>
  )
}

/** For what a policy is to be. */
function ChooseSubject({ onClose, onChosen }: { onClose: () => void; onChosen: (chosen: Editing) => void }) {
  const [level, setLevel] = useState<'room' | 'aim' | 'display'>('room')
  const [of, setOf] = useState<{ value: number; label: string } | null>(null)
  const policies = usePolicies().data ?? []
  const things = { room: useRooms().data ?? [], aim: useAims().data ?? [] }
  return (
    <Modal
      open
      title="A policy for what?"
      onCancel={onClose}
      okText="Choose its rules"
      okButtonProps={{ disabled: of === null }}
      onOk={() => {
        const known = policies.find((p) => p.level === level && p.of === of!.value)
        onChosen(known ?? { level, of: of!.value, name: of!.label, rules: {} })
      }}
    >
      <div style={{ display: 'grid', gap: 12, margin: '8px 0' }}>
        <Segmented
          block
          value={level}
          onChange={(value) => {
            setLevel(value as 'room')
            setOf(null)
          }}
          options={[
            { value: 'room', label: 'a room' },
            { value: 'aim', label: 'an aim' },
            { value: 'display', label: 'a display' },
          ]}
        />
        {level === 'display' ? (
          <DisplayPicker
            placeholder="Which display"
            value={of?.value}
            onChange={(value, option) =>
              setOf({ value, label: String((option as { label?: unknown }).label).split(',')[0] })
            }
          />
        ) : (
          <Select
            aria-label={levelWords[level]}
            placeholder={`Which ${level}`}
            value={of?.value}
            showSearch={{ optionFilterProp: 'label' }}
            onChange={(value: number) => setOf({ value, label: things[level].find((t) => t.id === value)!.name })}
            options={things[level].map((t) => ({ value: t.id, label: t.name }))}
          />
        )}
      </div>
    </Modal>
  )
}

function EditPolicy({ policy, onClose }: { policy: Editing; onClose: () => void }) {
  const [rules, setRules] = useState<Partial<Rules>>(policy.rules)
  const save = useSend(async () => {
    await ask('PUT', '/policies', { level: policy.level, ...(policy.level !== 'studio' && { of: policy.of }), rules })
    onClose()
  })
  return (
    <Modal
      open
      width={620}
      title={policy.level === 'studio' ? 'Rules of the studio' : `Rules of ${policy.level} ${policy.name}`}
      onCancel={onClose}
      footer={[
        <Button key="not" onClick={onClose}>
          Leave as it is
        </Button>,
        <Button key="save" type="primary" loading={save.isPending} onClick={() => save.mutate(undefined)}>
          Save policy
        </Button>,
      ]}
    >
      <div className="ruleforms">
        {ruleNames.map((name) => (
          <label key={name} className="choose">
            <span className="small second">{rulesInWords[name].asks}</span>
            <Select<string>
              aria-label={rulesInWords[name].asks}
              value={rules[name] === undefined ? '' : JSON.stringify(rules[name])}
              onChange={(value) => {
                const { [name]: _former, ...rest } = rules
                setRules(value ? { ...rest, [name]: JSON.parse(value) as never } : rest)
              }}
              options={[
                {
                  value: '',
                  label:
                    policy.level === 'studio' ? `as usual: ${answerWords(name, usualRules[name])}` : 'as further out',
                },
                ...rulesInWords[name].answers.map((a) => ({ value: JSON.stringify(a.value), label: a.label })),
              ]}
            />
          </label>
        ))}
      </div>
      <p className="small quiet">
        Nothing is sent by this alone. Where a rule says that something happens by itself, it holds for what happens
        from now on.
      </p>
    </Modal>
  )
}
