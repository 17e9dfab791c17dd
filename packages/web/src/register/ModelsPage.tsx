import { Button, Form, InputNumber, Modal, Select } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { panelKinds, type PanelKind } from '@bichroma/core/register'
import { changeDisplaysSchema, type ModelFacts, type Share } from '@bichroma/contract'
import { ask } from '../api/client'
import { useLimits, useModels, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay } from '../parts/times'
import { useSchemaForm } from '../parts/useSchemaForm'

/** What is known of each model, in one place. */
export function ModelsPage() {
  const [changing, setChanging] = useState<ModelFacts | null>(null)
  const admin = useSession().data?.account?.role === 'administrator'
  return (
    <>
      <div className="top">
        <div>
          <h1>Models</h1>
          <p>
            <Link to="/register">Register</Link> · what is known of each model, from all its displays in use
          </p>
        </div>
      </div>
      <Loaded query={useModels()}>
        {(models) => (
          <Plane title="Models" aside={String(models.length)}>
            {models.length ? (
              <div className="sideways">
                <table className="figures people top-aligned">
                  <thead>
                    <tr>
                      <th>Model</th>
                      <th>Light</th>
                      <th>Slots</th>
                      <th>Firmware</th>
                      <th>Limits</th>
                      <th>Checked every</th>
                      <th>Corrections</th>
                      <th />
                    </tr>
                  </thead>
                  <tbody>
                    {models.map((m) => (
                      <tr key={`${m.maker} ${m.model}`}>
                        <td>
                          <Link to={`/register?search=${encodeURIComponent(`${m.maker} ${m.model}`)}`}>
                            {m.maker} {m.model}
                          </Link>
                          <br />
                          <span className="small quiet">
                            {m.displays === 1 ? 'one display' : `${m.displays} displays`}
                            {m.delayMs && `, follows in ${delayWords(m.delayMs)}`}
                          </span>
                        </td>
                        <td>
                          <Shares of={m.panelKinds} total={m.displays} words={(kind: PanelKind) => panelKinds[kind]} />
                        </td>
                        <td>
                          <Shares of={m.slots} total={m.displays} words={String} />
                        </td>
                        <td className="fig">
                          <Shares of={m.firmware} total={m.displays} words={String} />
                        </td>
                        <td>
                          <Shares of={m.limits} total={m.displays} words={String} />
                        </td>
                        <td>
                          <Shares of={m.checkEveryDays} total={m.displays} words={(d: number) => `${d} days`} />
                        </td>
                        <td className="small">
                          {m.corrections.length ? (
                            m.corrections.slice(0, 3).map((c) => (
                              <div key={c.instrument}>
                                {c.instrument}{' '}
                                <span className="quiet">
                                  on {c.displayName}, {formatDay(c.madeAt)}
                                </span>
                              </div>
                            ))
                          ) : (
                            <span className="quiet">none made</span>
                          )}
                        </td>
                        <td>
                          {admin && (
                            <Button size="small" onClick={() => setChanging(m)}>
                              Change all
                            </Button>
                          )}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
            ) : (
              <p className="none">No display is in the register yet.</p>
            )}
          </Plane>
        )}
      </Loaded>
      {changing && (
        <ChangeMany
          title={`All ${changing.displays} of ${changing.maker} ${changing.model}`}
          which={{ maker: changing.maker, model: changing.model }}
          onClose={() => setChanging(null)}
        />
      )}
    </>
  )
}

const delayWords = ({ from, to }: { from: number; to: number }) => (from === to ? `${to} ms` : `${from} to ${to} ms`)

/** The values of a fact: the first one plain, others with how many have them. */
function Shares<T extends string | number>({
  of,
  total,
  words,
}: {
  of: readonly Share<T>[]
  total: number
  words: (value: T) => string
}) {
  return of.slice(0, 4).map(({ value, displays }, i) => (
    <div key={value} className={i ? 'asks' : ''}>
      {words(value)}
      {displays < total && <span className="quiet small"> × {displays}</span>}
    </div>
  ))
}

interface Change {
  limitsId?: number
  checkEveryDays?: number | null
}

/** By which limits many displays are judged, and how often; what is left empty stays as it is. */
export function ChangeMany({
  title,
  which,
  onClose,
}: {
  title: string
  which: { readonly ids: readonly number[] } | { readonly maker: string; readonly model: string }
  onClose: () => void
}) {
  const limits = useLimits().data ?? []
  const { form, submit, pending } = useSchemaForm<Change>(
    changeDisplaysSchema,
    (input) => ask('POST', '/displays/change', input).then(onClose),
    ({ limitsId, checkEveryDays }) => ({
      ...which,
      ...(limitsId !== undefined && { limitsId }),
      ...(typeof checkEveryDays === 'number' && { checkEveryDays }),
    }),
  )
  return (
    <Modal
      open
      title={title}
      okText="Change them"
      onOk={submit}
      onCancel={onClose}
      confirmLoading={pending}
      width={400}
    >
      <Form form={form} layout="vertical" onFinish={submit}>
        <Form.Item label="Limits" name="limitsId" extra="left empty, each keeps its own">
          <Select allowClear options={limits.map((l) => ({ value: l.id, label: l.name }))} />
        </Form.Item>
        <Form.Item label="Days between checks" name="checkEveryDays" extra="left empty, each keeps its own">
          <InputNumber style={{ width: '100%' }} />
        </Form.Item>
      </Form>
    </Modal>
  )
}
