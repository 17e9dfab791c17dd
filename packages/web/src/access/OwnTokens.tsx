import { Button, Form, Input, InputNumber, Popconfirm, Select } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { makeTokenSchema, roleCovers, roles, type ApiToken, type MakeToken, type Role } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSend, useSession, useTokens } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { Plane } from '../parts/Plane'
import { formatDay, formatMoment } from '../parts/times'
import { useSchemaForm } from '../parts/useSchemaForm'
import { CopyText } from './CopyText'

/** Tokens by which programs ask in one's own name; administrators see everybody's. */
export function OwnTokens() {
  const account = useSession().data?.account
  const [made, setMade] = useState<{ name: string; token: string } | null>(null)
  const [making, setMaking] = useState(false)
  return (
    <Loaded query={useTokens()}>
      {(tokens) => (
        <Plane title="Tokens for programs" aside={String(tokens.length)}>
          {made && (
            <div className="once">
              <p className="second">The token {made.name}. It is not shown again.</p>
              <code className="fig">{made.token}</code>
              <span className="row">
                <CopyText what="The token is" text={made.token} label="Copy token" />
                <Button size="small" onClick={() => setMade(null)}>
                  Put away
                </Button>
              </span>
            </div>
          )}
          {tokens.length > 0 && (
            <table className="figures people">
              <thead>
                <tr>
                  <th>Name</th>
                  <th>Role</th>
                  <th>Good until</th>
                  <th>Last used</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {tokens.map((token) => (
                  <TokenRow key={token.id} token={token} own={token.accountId === account?.id} />
                ))}
              </tbody>
            </table>
          )}
          <div style={{ padding: 12 }}>
            {making && account ? (
              <MakeTokenForm
                most={account.role}
                onMade={(token) => {
                  setMade(token)
                  setMaking(false)
                }}
                onClose={() => setMaking(false)}
              />
            ) : (
              <span className="row" style={{ alignItems: 'center' }}>
                <Button size="small" onClick={() => setMaking(true)}>
                  Make a token
                </Button>
                <Link to="/account/api">What programs can ask for</Link>
              </span>
            )}
          </div>
        </Plane>
      )}
    </Loaded>
  )
}

function TokenRow({ token, own }: { token: ApiToken; own: boolean }) {
  const withdraw = useSend(() => ask('DELETE', `/tokens/${token.id}`))
  return (
    <tr>
      <td>
        {token.name}
        {!own && <span className="quiet"> · {token.account}</span>}
      </td>
      <td>{token.role}</td>
      <td className="second">{formatDay(token.expiresAt)}</td>
      <td className="second">{token.usedAt === null ? 'never' : formatMoment(token.usedAt)}</td>
      <td>
        <Popconfirm
          title={`Withdraw the token ${token.name}?`}
          description="Programs that use it are refused from now on."
          okText="Withdraw"
          cancelText="Leave it"
          onConfirm={() => withdraw.mutate(undefined)}
        >
          <Button size="small">Withdraw</Button>
        </Popconfirm>
      </td>
    </tr>
  )
}

function MakeTokenForm({
  most,
  onMade,
  onClose,
}: {
  most: Role
  onMade: (made: { name: string; token: string }) => void
  onClose: () => void
}) {
  const { form, submit, pending } = useSchemaForm<MakeToken>(makeTokenSchema, async (input) =>
    onMade({ name: input.name, token: (await ask<{ token: string }>('POST', '/tokens', input)).token }),
  )
  return (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      initialValues={{ role: 'viewer', days: 90 }}
      onFinish={submit}
    >
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 150px 90px', columnGap: 10 }}>
        <Form.Item label="What it is for" name="name">
          <Input autoFocus autoComplete="off" />
        </Form.Item>
        <Form.Item label="Role" name="role">
          <Select options={roles.filter((r) => roleCovers(most, r)).map((value) => ({ value, label: value }))} />
        </Form.Item>
        <Form.Item label="Days" name="days">
          <InputNumber style={{ width: '100%' }} />
        </Form.Item>
      </div>
      <span className="row">
        <Button type="primary" size="small" htmlType="submit" loading={pending}>
          Make it
        </Button>
        <Button size="small" onClick={onClose}>
          Leave it
        </Button>
      </span>
    </Form>
  )
}
