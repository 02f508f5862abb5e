import { z } from 'zod'
import { Instant, Method, Name, Short, Uuid } from '../common.ts'

const ZONES = new Set(['UTC', ...Intl.supportedValuesOf('timeZone')])
const CURRENCIES = /^[A-Z]{3}$/
export const SignIn = z.string().trim().toLowerCase().regex(/^[a-z0-9][a-z0-9._@-]{1,59}$/, 'letters, digits, point, hyphen or @ are wanted, at least two')
export const Password = z.string().min(8, 'at least 8 characters').max(200)

export const Organisation = z.object({
  name: Name, zone: z.string().refine(z => ZONES.has(z), 'a time zone like Europe/Paris is wanted'), currency: z.string().regex(CURRENCIES, 'a currency code like EUR is wanted'),
  decimalMark: z.enum(['.', ',']), dateOrder: z.enum(['dmy', 'mdy', 'ymd']),
})
/** What the first run asks: the organisation, who manages it, and the first storage area. */
export const FirstRun = z.object({ organisation: Organisation, manager: z.object({ name: Name, signIn: SignIn, password: Password }), area: Name }).meta({ id: 'FirstRun' })
export const Settings = Organisation.extend({ shortRule: z.enum(['at_or_below', 'below']), method: Method }).meta({ id: 'Settings' })
export type Settings = z.infer<typeof Settings>

export const Role = z.enum(['manager', 'keeper', 'buyer', 'requester', 'observer'])
export const Person = z.object({ id: Uuid, name: Name, signIn: z.string(), role: Role, active: z.boolean() }).meta({ id: 'Person' })
export type Person = z.infer<typeof Person>
export const NewPerson = z.object({ name: Name, signIn: SignIn, password: Password, role: z.enum(['manager', 'keeper']) }).meta({ id: 'NewPerson' })
export const SignInInput = z.object({ signIn: z.string().max(60), password: z.string().max(200) }).meta({ id: 'SignIn' })
/** Who is signed in, what they may do, and how the organisation writes things. */
export const Me = z.object({
  person: Person, may: z.array(z.enum(['book', 'reverse', 'override', 'set_up', 'see_value'])), settings: Settings, now: Instant, expiresAt: Instant,
}).meta({ id: 'Me' })
export type Me = z.infer<typeof Me>
export const Start = z.object({ empty: z.boolean(), name: Short.nullable(), demonstration: z.boolean(), zones: z.array(z.string()) }).meta({ id: 'Start' })
export const Health = z.object({ ok: z.boolean(), seq: z.number().int(), version: z.string() }).meta({ id: 'Health' })
