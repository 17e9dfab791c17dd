import { yup } from '../sentences'

export const roles = ['viewer', 'technician', 'administrator'] as const
export type Role = (typeof roles)[number]

/** Whether a role may do what another role may: each may also do what the ones before it may. */
export const roleCovers = (has: Role, needs: Role): boolean => roles.indexOf(has) >= roles.indexOf(needs)

export const signInSchema = yup
  .object({
    login: yup.string().strict().trim().required().max(60).label('Login'),
    password: yup.string().strict().required().max(200).label('Password'),
  })
  .noUnknown()
export type SignIn = yup.InferType<typeof signInSchema>

export interface Account {
  id: number
  login: string
  name: string
  role: Role
}
