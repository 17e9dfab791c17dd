import { Button, Form, Input, Modal, Popconfirm, Select } from 'antd'
import { useState } from 'react'
import { inviteSchema, roles, type Invite, type Person, type Role } from '@bichroma/contract'
import { ask } from '../api/client'
import { usePeople, useRooms, useSend, useSession, useSettings } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatMoment } from '../parts/times'
import { useSchemaForm } from '../parts/useSchemaForm'
import { CopyText } from './CopyText'

/** What each role may do, in half a sentence. */
const roleWords: Readonly<Record<Role, string>> = {
  viewer: 'sees everything, starts nothing',
  technician: 'measures, places profiles, sees to runs',
  administrator: 'decides aims, limits, policies and accounts',
}

interface Link {
  readonly name: string
  readonly token: string
  readonly expiresAt: number
}

/** Who may sign in, and as what. */
export function PeoplePage() {
  const [inviting, setInviting] = useState(false)
  const [link, setLink] = useState<Link | null>(null)
  return (
    <>
      <div className="top">
        <div>
          <h1>People</h1>
          <p>Who may sign in, and what they may do</p>
        </div>
        <div className="acts">
          <FactorPolicy />
          <Button type="primary" onClick={() => setInviting(true)}>
            Invite somebody
          </Button>
        </div>
      </div>
      {link && <LinkPlane link={link} onClose={() => setLink(null)} />}
      <Loaded query={usePeople()}>
        {(people) => (
          <Plane title="Accounts" aside={String(people.length)}>
            <div className="sideways">
              <table className="figures people">
                <thead>
                  <tr>
                    <th>Name</th>
                    <th>Login</th>
                    <th>Role</th>
                    <th>Rooms</th>
                    <th>Last signed in</th>
                    <th />
                  </tr>
                </thead>
                <tbody>
                  {people.map((person) => (
                    <PersonRow key={person.id} person={person} onLink={setLink} />
                  ))}
                </tbody>
              </table>
            </div>
          </Plane>
        )}
      </Loaded>
      <p className="small quiet" style={{ marginTop: 12 }}>
        {roles.map((role) => `${role}: ${roleWords[role]}`).join(' · ')}
      </p>
      {inviting && <InviteForm onClose={() => setInviting(false)} onLink={setLink} />}
    </>
  )
}

function PersonRow({ person, onLink }: { person: Person; onLink: (link: Link) => void }) {
  const { id, name, login, role, rooms, invited, locked, secondFactor, signedInAt } = person
  const own = useSession().data?.account?.id === id
  const change = useSend((input: { role?: Role; locked?: boolean; rooms?: readonly number[] | null }) =>
    ask('PUT', `/people/${id}`, input),
  )
  const reset = useSend(async () => onLink({ name, ...(await ask<Omit<Link, 'name'>>('POST', `/people/${id}/reset`)) }))
  const factorOff = useSend(() => ask('DELETE', `/people/${id}/second-factor`))
  return (
    <tr>
      <td>
        <b style={{ fontWeight: 500 }}>{name}</b>
        {own && <span className="quiet"> · you</span>}
      </td>
      <td className="fig">{login}</td>
      <td>
        <Select<Role>
          aria-label={`Role of ${name}`}
          size="small"
          variant="borderless"
          style={{ marginLeft: -8 }}
          value={role}
          popupMatchSelectWidth={false}
          onChange={(value) => change.mutate({ role: value })}
          options={roles.map((value) => ({ value, label: value }))}
        />
      </td>
      <td>
        {role === 'technician' ? (
          <RoomChoice name={name} rooms={rooms} onChange={(value) => change.mutate({ rooms: value })} />
        ) : (
          <span className="quiet">all</span>
        )}
      </td>
      <td className="second">
        {locked ? (
          <span className="asks">locked</span>
        ) : invited ? (
          'invited, has not been here yet'
        ) : signedInAt === null ? (
          'never'
        ) : (
          formatMoment(signedInAt)
        )}
      </td>
      <td>
        <span style={{ display: 'inline-flex', gap: 6 }}>
          <Popconfirm
            title={invited ? `Make a new link for ${name}?` : `Let ${name} choose a new password?`}
            description="The link before it is worth nothing any more."
            okText="Make the link"
            cancelText="Leave it"
            onConfirm={() => reset.mutate(undefined)}
          >
            <Button size="small">{invited ? 'New link' : 'Reset password'}</Button>
          </Popconfirm>
          {secondFactor && !own && (
            <Popconfirm
              title={`Take ${name}’s second factor away?`}
              description="For somebody who has lost it: the password alone lets them in, until they set up another."
              okText="Take it away"
              cancelText="Leave it"
              onConfirm={() => factorOff.mutate(undefined)}
            >
              <Button size="small">Lost factor</Button>
            </Popconfirm>
          )}
          {!own && (
            <Button size="small" onClick={() => change.mutate({ locked: !locked })} loading={change.isPending}>
              {locked ? 'Unlock' : 'Lock'}
            </Button>
          )}
        </span>
      </td>
    </tr>
  )
}

/** Rooms that a technician works in. */
function RoomChoice({
  name,
  rooms,
  onChange,
}: {
  name: string
  rooms: readonly number[] | null
  onChange: (rooms: readonly number[] | null) => void
}) {
  const all = useRooms().data ?? []
  return (
    <Select<number[]>
      aria-label={`Rooms of ${name}`}
      mode="multiple"
      size="small"
      variant="borderless"
      style={{ minWidth: 150, maxWidth: 240, marginLeft: -12 }}
      placeholder="all rooms"
      value={[...(rooms ?? [])]}
      maxTagCount="responsive"
      optionFilterProp="label"
      onChange={(value) => onChange(value.length ? value : null)}
      options={all.map((room) => ({ value: room.id, label: room.name }))}
    />
  )
}

/** Who must have a second factor. */
function FactorPolicy() {
  const settings = useSettings().data
  const save = useSend((secondFactor: string) => ask('PUT', '/settings', { ...settings, secondFactor }))
  return (
    <Select
      aria-label="Who must have a second factor"
      value={settings?.secondFactor}
      popupMatchSelectWidth={false}
      onChange={(value) => save.mutate(value)}
      options={[
        { value: 'nobody', label: 'Second factor: as each likes' },
        { value: 'administrators', label: 'Second factor: administrators must' },
        { value: 'everybody', label: 'Second factor: everybody must' },
      ]}
    />
  )
}

/** A one-time link, shown once. */
function LinkPlane({ link, onClose }: { link: Link; onClose: () => void }) {
  const address = `${window.location.origin}/welcome?token=${link.token}`
  return (
    <Plane
      title={`Link for ${link.name}`}
      aside={`good for once, until ${formatMoment(link.expiresAt)}`}
      style={{ marginBottom: 14, borderLeft: '3px solid var(--ochre)' }}
    >
      <div style={{ padding: '0 12px 12px', display: 'grid', gap: 8, justifyItems: 'start' }}>
        <p className="second">Give it to {link.name} and to nobody else. It is not shown again.</p>
        <code className="fig" style={{ overflowWrap: 'anywhere', whiteSpace: 'normal' }}>
          {address}
        </code>
        <span style={{ display: 'flex', gap: 8 }}>
          <CopyText what="The link is" text={address} label="Copy link" />
          <Button size="small" onClick={onClose}>
            Put away
          </Button>
        </span>
      </div>
    </Plane>
  )
}

function InviteForm({ onClose, onLink }: { onClose: () => void; onLink: (link: Link) => void }) {
  const { form, submit, pending } = useSchemaForm<Invite>(inviteSchema, async (input) => {
    onLink({ name: input.name, ...(await ask<Omit<Link, 'name'>>('POST', '/people', input)) })
    onClose()
  })
  return (
    <Modal
      open
      title="Invite somebody"
      okText="Make the invitation"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={pending}
      width={400}
    >
      <Form form={form} layout="vertical" initialValues={{ role: 'technician' }} onFinish={submit}>
        <Form.Item label="Name" name="name">
          <Input autoFocus />
        </Form.Item>
        <Form.Item label="Login" name="login" extra="small letters and figures">
          <Input autoComplete="off" />
        </Form.Item>
        <Form.Item label="Role" name="role">
          <Select options={roles.map((value) => ({ value, label: `${value}: ${roleWords[value]}` }))} />
        </Form.Item>
      </Form>
    </Modal>
  )
}
