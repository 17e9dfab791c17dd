import { Button, Form, Input } from 'antd'
import { ask } from '../api/client'
import { useSend } from '../api/queries'
import { Entry } from './Entry'

interface Fields {
  login: string
  password: string
}

/** Login and password. */
export function SignIn() {
  const [form] = Form.useForm<Fields>()
  const signIn = useSend(
    (fields: Fields) => ask('POST', '/session', fields),
    ({ message }) => form.setFields([{ name: 'password', errors: [message] }]),
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
        <Form.Item>
          <Button type="primary" htmlType="submit" loading={signIn.isPending} block>
            Sign in
          </Button>
        </Form.Item>
      </Form>
    </Entry>
  )
}
