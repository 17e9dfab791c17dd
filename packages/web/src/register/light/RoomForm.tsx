import { Button, Form, Input, InputNumber, Popconfirm, Segmented } from 'antd'
import { useNavigate } from 'react-router'
import { saveRoomSchema, type HoldsRuns, type Room, type SaveRoom } from '@bichroma/contract'
import { ask } from '../../api/client'
import { useSend, useSession } from '../../api/queries'
import { checked, showProblem } from '../../parts/useYupForm'

interface Range {
  from: number | null
  to: number | null
}
interface Fields {
  name: string
  building: string | null
  light: { lux: Range; kelvin: Range }
  allowMinutes: number | null
  holdsRuns: HoldsRuns
  level: { lux: number | null; allowed: Range }
}

const none: Range = { from: null, to: null }
const isEmpty = (range: Range | undefined) => !range || ((range.from ?? null) === null && (range.to ?? null) === null)

/** What the form says as the server takes it: ranges that were left empty are left out. */
function inputOf({ name, building: typed, light, allowMinutes, holdsRuns, level }: Fields) {
  return {
    name,
    building: typed?.trim() ? typed : null,
    light: isEmpty(light.lux) ? null : { lux: light.lux, ...(isEmpty(light.kelvin) ? {} : { kelvin: light.kelvin }) },
    allowMinutes: allowMinutes ?? undefined,
    holdsRuns,
    level:
      (level.lux ?? null) === null && isEmpty(level.allowed)
        ? null
        : { lux: level.lux ?? undefined, allowed: isEmpty(level.allowed) ? null : level.allowed },
  }
}

/** A room's name and building, what its light is wanted to be, and what follows when it is not. */
export function RoomForm({ room }: { room: Room }) {
  const [form] = Form.useForm<Fields>()
  const navigate = useNavigate()
  const admin = useSession().data?.account?.role === 'administrator'
  const save = useSend(
    (input: SaveRoom) => ask('PUT', `/rooms/${room.id}`, input),
    (problem) => showProblem(form, problem),
  )
  const retire = useSend(async () => {
    await ask('DELETE', `/rooms/${room.id}`)
    void navigate('/register')
  })
  const number = (name: (string | number)[], words: string) => (
    <Form.Item key={words} label={words} name={name}>
      <InputNumber style={{ width: '100%' }} />
    </Form.Item>
  )
  return (
    <Form
      form={form}
      layout="vertical"
      className="inside roomform"
      disabled={!admin}
      initialValues={{
        name: room.name,
        building: room.building,
        light: { lux: room.light?.lux ?? none, kelvin: room.light?.kelvin ?? none },
        allowMinutes: room.allowMinutes,
        holdsRuns: room.holdsRuns,
        level: { lux: room.level?.lux ?? null, allowed: room.level?.allowed ?? none },
      }}
      onFinish={() => {
        const input = checked(form, saveRoomSchema, inputOf(form.getFieldsValue(true) as Fields))
        if (input) save.mutate(input)
      }}
    >
      <div className="pair">
        <Form.Item label="Name" name="name">
          <Input />
        </Form.Item>
        <Form.Item label="Building" name="building">
          <Input placeholder="none named" />
        </Form.Item>
      </div>
      <p className="second small">Wanted at the desk:</p>
      <div className="pair">
        {number(['light', 'lux', 'from'], 'From, lx')}
        {number(['light', 'lux', 'to'], 'To, lx')}
        {number(['light', 'kelvin', 'from'], 'From, K')}
        {number(['light', 'kelvin', 'to'], 'To, K')}
      </div>
      <div className="pair">{number(['allowMinutes'], 'May be out for, minutes')}</div>
      <Form.Item label="Out for longer, there wait" name="holdsRuns">
        <Segmented
          block
          options={[
            { value: 'needed', label: 'runs that need it' },
            { value: 'all', label: 'all runs' },
          ]}
        />
      </Form.Item>
      <p className="second small">Aims that follow the room:</p>
      <div className="pair three">
        {number(['level', 'lux'], 'Agreed, lx')}
        {number(['level', 'allowed', 'from'], 'By itself from')}
        {number(['level', 'allowed', 'to'], 'to, lx')}
      </div>
      {admin && (
        <span style={{ display: 'flex', gap: 8 }}>
          <Button type="primary" htmlType="submit" loading={save.isPending}>
            Save room
          </Button>
          <Popconfirm
            title={`Retire ${room.name}?`}
            description="Its workstations go elsewhere first; the log of its light stays."
            okText="Retire it"
            cancelText="Leave it"
            onConfirm={() => retire.mutate(undefined)}
          >
            <Button>Retire room</Button>
          </Popconfirm>
        </span>
      )}
    </Form>
  )
}
