import { idField, nameField, numberField, textField } from '../fields'
import { yup } from '../sentences'

export const roles = ['viewer', 'technician', 'administrator'] as const
export type Role = (typeof roles)[number]

/** Whether a role may do what another role may: each may also do what the ones before it may. */
export const roleCovers = (has: Role, needs: Role): boolean => roles.indexOf(has) >= roles.indexOf(needs)

/** Six figures of the moment, or a recovery code; blanks, dashes and case are of no account. */
const codeField = () => textField(40).trim().label('Code')

export const signInSchema = yup
  .object({
    login: yup.string().strict().trim().required().max(60).label('Login'),
    password: yup.string().strict().required().max(200).label('Password'),
    /** The second factor, where the account has one: six figures, or a recovery code. */
    code: codeField().optional(),
  })
  .noUnknown()
export type SignIn = yup.InferType<typeof signInSchema>

export interface Account {
  id: number
  login: string
  name: string
  role: Role
  /** Rooms that a technician is limited to; null for all of them. Everybody sees everything. */
  rooms: readonly number[] | null
  /** The studio asks for a second factor, and this account has none: nothing else is done before it has. */
  lacksSecondFactor: boolean
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

/** Rooms that a technician is limited to; null for all. */
const roomsField = () =>
  yup.array().of(idField().required()).strict().min(1).max(500).nullable().optional().default(undefined).label('Rooms')

/** Only technicians are limited to rooms. */
const roomsOfTechnician = {
  name: 'rooms',
  message: 'Only technicians are limited to rooms; leave “rooms” out.',
  test: (v: { role?: Role; rooms?: unknown } | undefined) => !v?.rooms || !v.role || v.role === 'technician',
}

/** Somebody is invited: an account that waits for its owner to choose a password. */
export const inviteSchema = yup
  .object({ login: loginField(), name: nameField().label('Name'), role: roleField(), rooms: roomsField() })
  .noUnknown()
  .test(roomsOfTechnician)
export type Invite = yup.InferType<typeof inviteSchema>

/** Changes name, role, rooms, or whether an account is locked; what is left out stays. */
export const changeAccountSchema = yup
  .object({
    name: nameField().label('Name').optional().default(undefined),
    role: roleField().optional(),
    locked: yup.boolean().strict(),
    rooms: roomsField(),
  })
  .noUnknown()
  .test(roomsOfTechnician)
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
  secondFactor: boolean
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

/** A second factor that is being set up: what an authenticator reads, as a picture (SVG) and to be typed. */
export interface SecondFactorOffer {
  secret: string
  /** `otpauth://` address that the picture holds. */
  address: string
  picture: string
}

/** One's own second factor. */
export interface SecondFactorState {
  on: boolean
  /** Recovery codes that were not used yet. */
  codesLeft: number
}

/** Proves that the authenticator is set up: the six figures that it shows. */
export const confirmSecondFactorSchema = yup.object({ code: codeField().required() }).noUnknown()

/** Takes the second factor away, or makes new recovery codes; the password is asked for once more. */
export const ownPasswordSchema = yup
  .object({ password: yup.string().strict().required().max(200).label('Password') })
  .noUnknown()

/** Days for which an API token may be good. */
export const longestTokenDays = 400

/** A token by which a program asks the API in its maker's name. */
export const makeTokenSchema = yup
  .object({
    name: nameField().label('Name'),
    role: roleField(),
    rooms: roomsField(),
    /** Days until it ends. */
    days: numberField().required().integer().min(1).max(longestTokenDays).label('Days'),
  })
  .noUnknown()
  .test(roomsOfTechnician)
export type MakeToken = yup.InferType<typeof makeTokenSchema>

/** A token as it is told: never the token itself. */
export interface ApiToken {
  id: number
  name: string
  role: Role
  rooms: readonly number[] | null
  /** Whose it is. */
  accountId: number
  account: string
  madeAt: number
  expiresAt: number
  /** When it was used last, to the minute; null for never. */
  usedAt: number | null
}

/** Who is signed in. */
export interface Session {
  account: Account | null
  /** Nobody has an account yet: the first is made with the console's token. */
  first: boolean
}
