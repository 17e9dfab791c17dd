import { nameField, textField } from '../fields'
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

/** Characters of a password, at least; they may be anything. */
export const leastPassword = 12

/** A password that somebody chooses. Whether it is a common one the server looks up. */
const newPasswordField = () =>
  yup
    .string()
    .strict()
    .required()
    .max(200)
    .test(
      'long enough',
      `A password has ${leastPassword} characters or more; a short sentence is easy to remember.`,
      (v) => [...(v ?? '')].length >= leastPassword,
    )

const loginField = () =>
  textField(60)
    .trim()
    .required()
    .matches(/^[a-z0-9._-]{2,60}$/, '“Login” must be 2 to 60 small letters, figures, dots, dashes and underlines.')
    .label('Login')

/** A token as people type it; blanks, dashes and case are of no account. */
const tokenField = () => textField(60).trim().required().label('Token')

/** What the first visit sends: the console's token and the first administrator. */
export const firstVisitSchema = yup
  .object({
    token: tokenField(),
    login: loginField(),
    name: nameField().label('Name'),
    password: newPasswordField().label('Password'),
  })
  .noUnknown()
export type FirstVisitInput = yup.InferType<typeof firstVisitSchema>

const roleField = () =>
  yup
    .string<Role>()
    .strict()
    .oneOf([...roles])
    .required()
    .label('Role')

/** Somebody is invited: an account that waits for its owner to choose a password. */
export const inviteSchema = yup
  .object({ login: loginField(), name: nameField().label('Name'), role: roleField() })
  .noUnknown()
export type Invite = yup.InferType<typeof inviteSchema>

/** Changes name, role, or whether an account is locked; what is left out stays. */
export const changeAccountSchema = yup
  .object({
    name: nameField().label('Name').optional().default(undefined),
    role: roleField().optional(),
    locked: yup.boolean().strict(),
  })
  .noUnknown()
export type ChangeAccount = yup.InferType<typeof changeAccountSchema>

/** The owner of an invitation or a reset chooses a password. */
export const acceptSchema = yup
  .object({ token: tokenField(), password: newPasswordField().label('Password') })
  .noUnknown()

export const changePasswordSchema = yup
  .object({
    old: yup.string().strict().required().max(200).label('Old password'),
    password: newPasswordField().label('New password'),
  })
  .noUnknown()

/** An account as administrators see it. */
export interface Person extends Account {
  /** It waits for its owner to choose a password. */
  invited: boolean
  locked: boolean
  /** ms since 1970; null for never. */
  signedInAt: number | null
}

/** A session of one's own. */
export interface OwnSession {
  id: string
  startedAt: number
  seenAt: number
  /** What the browser says it is. */
  browser: string
  /** The one that asks. */
  current: boolean
}

/** Who is signed in. */
export interface Session {
  account: Account | null
  /** Nobody has an account yet: the first is made with the console's token. */
  first: boolean
}
