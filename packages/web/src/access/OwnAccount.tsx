import { App, Button, Form, Input } from 'antd'
import { changePasswordSchema, leastPassword } from '@bichroma/contract'
import { ask } from '../api/client'
import { useOwnSessions, useSend, useSession } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { beside } from '../parts/beside'
import { formatMoment } from '../parts/times'
import { useSchemaForm } from '../parts/useSchemaForm'
import { OwnTokens } from './OwnTokens'
import { SecondFactor } from './SecondFactor'

interface Fields {
  old: string
  password: string
}

/** What a browser says it is, in a few words. */
const browserWords = (agent: string): string => {
  const name = /(Firefox|Edg|OPR|Chrome|Safari)\//.exec(agent)?.[1]
  const system = /(Windows|Mac OS X|Android|iPhone|iPad|Linux)/.exec(agent)?.[1]
  return [name ?? 'a program', system].filter(Boolean).join(' on ')
}

/** One's own password and sessions. */
export function OwnAccount() {
  const account = useSession().data?.account
  const { message } = App.useApp()
  const { form, submit, pending } = useSchemaForm<Fields>(changePasswordSchema, (input, filled) =>
    ask('PUT', '/session/password', input).then(() => {
      filled.resetFields()
      void message.success('The password is changed; other sessions were signed out.')
    }),
  )
  const others = useSend(() => ask('DELETE', '/session/others'))
  return (
    <>
      <div className="top">
        <div>
          <h1>{account?.name}</h1>
          <p>
            Signed in as <span className="fig">{account?.login}</span>, {account?.role}
          </p>
        </div>
      </div>
      <div className="split" style={beside(340)}>
        <div className="stack">
          <Loaded query={useOwnSessions()}>
            {(sessions) => (
              <Plane title="Where you are signed in" aside={String(sessions.length)}>
                <table className="figures">
                  <tbody>
                    {sessions.map((s) => (
                      <tr key={s.id}>
                        <td>
                          {browserWords(s.browser)}
                          {s.current && <span className="runs"> · this one</span>}
                        </td>
                        <td className="second">
                          since {formatMoment(s.startedAt)}, used {formatMoment(s.seenAt)}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
                {sessions.length > 1 && (
                  <div style={{ padding: '8px 12px 12px' }}>
                    <Button size="small" loading={others.isPending} onClick={() => others.mutate(undefined)}>
                      Sign out everywhere else
                    </Button>
                  </div>
                )}
              </Plane>
            )}
          </Loaded>
          <OwnTokens />
        </div>
        <div className="stack">
          <Plane title="Second factor">
            <SecondFactor />
          </Plane>
          <Plane title="Password" style={{ padding: '0 0 4px' }}>
            <Form form={form} layout="vertical" requiredMark={false} onFinish={submit} style={{ padding: '0 12px' }}>
              <Form.Item label="Old password" name="old">
                <Input.Password autoComplete="current-password" />
              </Form.Item>
              <Form.Item label="New password" name="password" extra={`${leastPassword} characters or more`}>
                <Input.Password autoComplete="new-password" />
              </Form.Item>
              <Form.Item>
                <Button type="primary" htmlType="submit" loading={pending}>
                  Change password
                </Button>
              </Form.Item>
            </Form>
          </Plane>
        </div>
      </div>
    </>
  )
}
