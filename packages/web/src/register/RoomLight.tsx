import { Button, Form, Input, InputNumber, Modal, Popconfirm } from 'antd'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { CartesianGrid, Line, LineChart, ReferenceArea, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { niceTicks } from '@bichroma/core/review'
import { saveRoomSchema, type Room, type RoomLightEntry, type SaveRoom, type yup } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend, useSession } from '../api/queries'
import { axis, grid, label, measuredLine, tooltip } from '../charts/chartStyle'
import { checked, showProblem } from '../parts/useYupForm'

interface Fields {
  name: string
  building: string | null
  light: { lux: { from: number | null; to: number | null }; kelvin: { from: number | null; to: number | null } }
}

const isEmpty = (range: { from: number | null; to: number | null } | undefined) =>
  !range || (range.from === null && range.to === null) || (range.from === undefined && range.to === undefined)

/** What a form says as the server takes it: ranges that were left empty are left out. */
function inputOf({ name, building: typed, light }: Fields) {
  const building = typed?.trim() ? typed : null
  if (isEmpty(light.lux)) return { name, building, light: null }
  return { name, building, light: { lux: light.lux, ...(isEmpty(light.kelvin) ? {} : { kelvin: light.kelvin }) } }
}

/** A room's light over time, and what it is wanted to be. */
export function RoomLight({ room, onClose }: { room: Room; onClose: () => void }) {
  const [form] = Form.useForm<Fields>()
  const admin = useSession().data?.account?.role === 'administrator'
  const log = useQuery({
    queryKey: ['rooms', String(room.id), 'light'],
    queryFn: () => ask<RoomLightEntry[]>('GET', `/rooms/${room.id}/light`),
  })
  const save = useSend(
    async (input: SaveRoom) => {
      await ask('PUT', `/rooms/${room.id}`, input)
      onClose()
    },
    (problem) => showProblem(form, problem),
  )
  const retire = useSend(() => ask('DELETE', `/rooms/${room.id}`).then(onClose))
  const none = { from: null, to: null }
  return (
    <Modal
      open
      title={room.name}
      okText="Save room"
      cancelText={admin ? 'Not now' : 'Close'}
      okButtonProps={admin ? { loading: save.isPending } : { style: { display: 'none' } }}
      onCancel={onClose}
      onOk={() => {
        const input = checked(
          form,
          saveRoomSchema as unknown as yup.Schema<SaveRoom>,
          inputOf(form.getFieldsValue(true) as Fields),
        )
        if (input) save.mutate(input)
      }}
    >
      {admin && (
        <Popconfirm
          title={`Retire ${room.name}?`}
          description="Its workstations go elsewhere first; the log of its light stays."
          okText="Retire it"
          cancelText="Leave it"
          onConfirm={() => retire.mutate(undefined)}
        >
          <Button size="small" style={{ marginBottom: 10 }}>
            Retire room
          </Button>
        </Popconfirm>
      )}
      <LightChart entries={log.data ?? []} room={room} />
      <Form
        form={form}
        layout="vertical"
        disabled={!admin}
        initialValues={{
          name: room.name,
          building: room.building,
          light: { lux: room.light?.lux ?? none, kelvin: room.light?.kelvin ?? none },
        }}
      >
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
          <Form.Item label="Name" name="name">
            <Input />
          </Form.Item>
          <Form.Item label="Building" name="building">
            <Input placeholder="none named" />
          </Form.Item>
        </div>
        <p className="second small" style={{ marginBottom: 6 }}>
          Wanted at the desk; a run warns when the light was last read outside it.
        </p>
        <div style={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 8 }}>
          {(
            [
              ['lux', 'from', 'From, lx'],
              ['lux', 'to', 'To, lx'],
              ['kelvin', 'from', 'From, K'],
              ['kelvin', 'to', 'To, K'],
            ] as const
          ).map(([kind, end, words]) => (
            <Form.Item key={words} label={words} name={['light', kind, end]}>
              <InputNumber style={{ width: '100%' }} />
            </Form.Item>
          ))}
        </div>
      </Form>
    </Modal>
  )
}

function LightChart({ entries, room }: { entries: readonly RoomLightEntry[]; room: Room }) {
  if (entries.length < 2)
    return (
      <p className="second" style={{ marginBottom: 12 }}>
        A curve begins with the second reading of this room.
      </p>
    )
  const points = [...entries].reverse().map((e) => ({ at: e.at, lux: e.illuminanceLux }))
  const lux = room.light?.lux
  const ticks = niceTicks(0, Math.max(...points.map((p) => p.lux), lux?.to ?? 0))
  return (
    <ResponsiveContainer width="100%" height={170}>
      <LineChart data={points} margin={{ top: 12, right: 16, bottom: 4, left: -8 }}>
        <CartesianGrid {...grid} />
        {lux && <ReferenceArea y1={lux.from} y2={lux.to} fill="var(--line)" fillOpacity={0.5} />}
        <XAxis
          dataKey="at"
          type="number"
          scale="time"
          domain={['dataMin', 'dataMax']}
          tickFormatter={(at: number) => dayjs(at).format('D MMM')}
          {...axis}
        />
        <YAxis
          domain={[0, ticks[ticks.length - 1]]}
          ticks={ticks}
          {...axis}
          label={{ value: 'lx', angle: -90, position: 'insideLeft', offset: 18, ...label }}
        />
        <Tooltip
          {...tooltip}
          labelFormatter={(at) => dayjs(Number(at)).format('D MMM YYYY, HH:mm')}
          formatter={(v) => `${Number(v).toFixed(0)} lx`}
        />
        <Line {...measuredLine} dataKey="lux" name="light" dot={{ r: 2.4, fill: 'var(--text)', strokeWidth: 0 }} />
      </LineChart>
    </ResponsiveContainer>
  )
}
