import { Button, Form, Input } from 'antd'
import { useState } from 'react'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { Entry } from './Entry'

interface Fields {
  login: string
  password: string
  code?: string
}

/** Login and password; then the second factor, where the account has one. */
export function SignIn() {
  const [form] = Form.useForm<Fields>()
  const [asksCode, setAsksCode] = useState(false)
  const signIn = useSend(
    (fields: Fields) => ask('POST', '/session', fields),
    ({ message, problem }) => {
      if (problem.type !== '/problems/second-factor') return form.setFields([{ name: 'password', errors: [message] }])
      // Asked for the first time it is no fault.
      if (asksCode) form.setFields([{ name: 'code', errors: [message] }])
      setAsksCode(true)
    },
  )
  return (
    <Entry>
      <Form form={form} layout="vertical" requiredMark={false} onFinish={(fields) => signIn.mutate(fields)}>
        <Form.Item label="Login" name="login" rules={[{ required: true, message: 'Type your login.' }]}>
          <Input autoFocus autoComplete="username" />
        </Form.Item>
        <Form.Item label="Password" name="password" rules={[{ required: true, message: 'Type your password.' }]}>
          <Input.Password autoComplete="current-password" />
        </Form.Item>
        {asksCode && (
          <Form.Item
            label="Code of the second factor"
            name="code"
            extra="Six figures of this moment, or a recovery code."
            rules={[{ required: true, message: 'Type the code.' }]}
          >
            <Input autoFocus autoComplete="one-time-code" inputMode="numeric" className="fig" />
          </Form.Item>
        )}
        <Form.Item>
          <Button type="primary" htmlType="submit" loading={signIn.isPending} block>
            Sign in
          </Button>
        </Form.Item>
      </Form>
    </Entry>
  )
}
