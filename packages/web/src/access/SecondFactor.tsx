import { Button, Form, Input } from 'antd'
import { useState } from 'react'
import { confirmSecondFactorSchema, ownPasswordSchema, type SecondFactorOffer } from '@bichroma/contract'
import { ask } from '../api/client'
import { useSecondFactor, useSend } from '../api/queries'
import { Loaded } from '../parts/Loaded'
import { useSchemaForm } from '../parts/useSchemaForm'
import { CopyText } from './CopyText'
import { useUnread } from './useUnread'

/** One's own second factor: set up, its recovery codes, taken away. `isFirst`: nothing else is let in before. */
export function SecondFactor({ isFirst = false }: { isFirst?: boolean }) {
  const { codes, show, kept } = useUnread()
  const setCodes: OnCodes = (told) => show(told, isFirst)
  const state = useSecondFactor()
  if (codes) return <Codes codes={codes} onClose={kept} />
  return (
    <Loaded query={state}>
      {({ on, codesLeft }) =>
        on ? <InForce codesLeft={codesLeft} onCodes={setCodes} /> : <SetUp onCodes={setCodes} />
      }
    </Loaded>
  )
}

type OnCodes = (codes: readonly string[]) => void

function SetUp({ onCodes }: { onCodes: OnCodes }) {
  const [offer, setOffer] = useState<SecondFactorOffer | null>(null)
  const begin = useSend(async () => setOffer(await ask<SecondFactorOffer>('POST', '/session/second-factor')))
  const { form, submit, pending } = useSchemaForm<{ code: string }>(confirmSecondFactorSchema, async (input) =>
    onCodes((await ask<{ codes: string[] }>('PUT', '/session/second-factor', input)).codes),
  )
  if (!offer)
    return (
      <div className="factor">
        <p className="second">
          Besides the password, signing in asks for six figures that an authenticator on your phone shows.
        </p>
        <Button loading={begin.isPending} onClick={() => begin.mutate(undefined)}>
          Set up a second factor
        </Button>
      </div>
    )
  return (
    <div className="factor">
      <img
        alt="Square for the authenticator"
        width={168}
        height={168}
        src={`data:image/svg+xml;utf8,${encodeURIComponent(offer.picture)}`}
      />
      <p className="second">Let the authenticator read the square, or type this key into it:</p>
      <code className="fig">{offer.secret.match(/.{4}/g)?.join(' ')}</code>
      <Form form={form} layout="vertical" requiredMark={false} onFinish={submit}>
        <Form.Item label="Six figures that it shows" name="code">
          <Input autoFocus autoComplete="one-time-code" inputMode="numeric" className="fig" style={{ width: 140 }} />
        </Form.Item>
        <Button type="primary" htmlType="submit" loading={pending}>
          Put it in force
        </Button>
      </Form>
    </div>
  )
}

/** What the password is asked for once more. */
type Asked = 'codes' | 'remove'

function InForce({ codesLeft, onCodes }: { codesLeft: number; onCodes: OnCodes }) {
  const [asked, setAsked] = useState<Asked | null>(null)
  const { form, submit, pending } = useSchemaForm<{ password: string }>(ownPasswordSchema, async (input) => {
    const answer = await ask<{ codes?: string[] }>('POST', `/session/second-factor/${asked}`, input)
    setAsked(null)
    if (answer.codes) onCodes(answer.codes)
  })
  return (
    <div className="factor">
      <p className="second">
        In force. <span className={codesLeft < 3 ? 'asks' : ''}>{codesLeft} recovery codes are left.</span>
      </p>
      {asked ? (
        <Form form={form} layout="vertical" requiredMark={false} onFinish={submit}>
          <Form.Item label="Password" name="password">
            <Input.Password autoFocus autoComplete="current-password" />
          </Form.Item>
          <span className="row">
            <Button type="primary" htmlType="submit" loading={pending}>
              {asked === 'codes' ? 'Make new codes' : 'Take it away'}
            </Button>
            <Button onClick={() => setAsked(null)}>Leave it</Button>
          </span>
        </Form>
      ) : (
        <span className="row">
          <Button size="small" onClick={() => setAsked('codes')}>
            New recovery codes
          </Button>
          <Button size="small" onClick={() => setAsked('remove')}>
            Take the second factor away
          </Button>
        </span>
      )}
    </div>
  )
}

/** Recovery codes, shown once. */
function Codes({ codes, onClose }: { codes: readonly string[]; onClose: () => void }) {
  return (
    <div className="factor">
      <p className="second">
        Recovery codes: each lets you in once when the phone is lost. Keep them where the phone is not. They are not
        shown again.
      </p>
      <ul className="codes fig">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
      <span className="row">
        <CopyText what="The codes are" text={codes.join('\n')} label="Copy the codes" />
        <Button size="small" onClick={onClose}>
          I have kept them
        </Button>
      </span>
    </div>
  )
}
