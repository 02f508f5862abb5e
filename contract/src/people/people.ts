import { z } from 'zod'
import { Amount, Cursor, Instant, Limit, Method, Name, Percent, Revision, Short, Uuid } from '../common.ts'
import { idOf } from '../things.ts'

const ZONES = new Set(['UTC', ...Intl.supportedValuesOf('timeZone')])
const CURRENCIES = /^[A-Z]{3}$/
export const SignIn = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z0-9][a-z0-9._@-]{1,59}$/, 'letters, digits, point, hyphen or @ are wanted, at least two')
export const Password = z.string().min(8, 'at least 8 characters').max(200)

export const Organisation = z.object({
  name: Name,
  zone: z.string().refine(z => ZONES.has(z), 'a time zone like Europe/Paris is wanted'),
  currency: z.string().regex(CURRENCIES, 'a currency code like EUR is wanted'),
  decimalMark: z.enum(['.', ',']),
  dateOrder: z.enum(['dmy', 'mdy', 'ymd']),
})
/** What the first run asks: the organisation, who manages it, and the first area. */
export const FirstRun = z
  .object({
    organisation: Organisation,
    manager: z.object({ name: Name, signIn: SignIn, password: Password }),
    area: Name,
  })
  .meta({ id: 'FirstRun' })
export type FirstRun = z.infer<typeof FirstRun>
export const Settings = Organisation.extend({
  shortRule: z.enum(['at_or_below', 'below']),
  method: Method,
  /** So many days past its day what was asked for still counts as coming. */
  patienceDays: z.number().int().min(0).max(365),
  /** So many days ahead what jobs are planned to take calls for restocking. */
  aheadDays: z.number().int().min(0).max(365),
  /** How far off a count may be where neither an item nor its category says: in per cent of what was expected, and in value. */
  tolerancePercent: Percent,
  toleranceValue: Amount.nullable(),
}).meta({ id: 'Settings' })
export type Settings = z.infer<typeof Settings>
/** What is not named stays as it is: two who change the settings at once undo nothing of each other. */
export const SettingsChange = Settings.partial().meta({ id: 'SettingsChange' })
export type SettingsChange = z.infer<typeof SettingsChange>

export const Role = z.enum(['manager', 'keeper', 'buyer', 'requester', 'observer'])
export type Role = z.infer<typeof Role>
/** A role over a place and all that lies in it; null: everywhere. */
export const Grant = z.object({ role: Role, place: idOf('place').nullable() })
export const Person = z
  .object({
    id: Uuid,
    revision: Revision,
    name: Name,
    signIn: z.string(),
    role: Role,
    active: z.boolean(),
    grants: z.array(Grant),
    hasPin: z.boolean(),
    hasBadge: z.boolean(),
  })
  .meta({ id: 'Person' })
export type Person = z.infer<typeof Person>
export const NewPerson = z
  .object({ name: Name, signIn: SignIn, password: Password, role: Role, place: idOf('place').nullable().default(null) })
  .meta({ id: 'NewPerson' })
export const ChangedPerson = z
  .object({
    name: Name,
    active: z.boolean(),
    grants: z.array(Grant).min(1, 'at least one role is wanted').max(20),
    password: Password.nullable().default(null),
  })
  .meta({ id: 'ChangedPerson' })
export const Pin = z.string().regex(/^\d{4,8}$/, 'four to eight digits')
export const PinInput = z.object({ password: z.string().max(200), pin: Pin.nullable() }).meta({ id: 'PinInput' })
/** Who takes over a tablet that somebody is signed in on. */
export const BadgeInput = z.object({ badge: z.string().min(4).max(60) }).meta({ id: 'BadgeInput' })
export const BadgeHolder = z.object({ name: z.string() }).meta({ id: 'BadgeHolder' })
export const HandsInput = z
  .union([BadgeInput, z.object({ signIn: z.string().max(60), pin: z.string().max(8) })])
  .meta({ id: 'HandsInput' })
export const AuditKind = z.enum([
  'begun',
  'person_added',
  'person_renamed',
  'person_out_of_use',
  'person_in_use',
  'roles',
  'password_reset',
  'password',
  'pin',
  'badge',
  'signed_out',
  'setting',
  'account_code',
  'month_closed',
  'sign_in_refused',
  'hands_refused',
  /** A backup was put in the place of the database: `before` and `after` are the moments up to which each of them knows. */
  'put_back',
])
export type AuditKind = z.infer<typeof AuditKind>
/** What was changed of rights and settings, or who was not let in: by whom, when and from where. */
export const AuditEntry = z
  .object({
    at: Instant,
    by: z.string().nullable(),
    what: AuditKind,
    /** Whom or what it is about. */
    subject: z.string(),
    before: z.string(),
    after: z.string(),
    /** The network address it came from; nothing where the program did it itself. */
    address: z.string(),
    device: z.string(),
  })
  .meta({ id: 'AuditEntry' })
export type AuditEntry = z.infer<typeof AuditEntry>
/** Which of it: of one sort, with words that stand in whom it is about or who did it. */
export const AuditQuery = z.object({
  what: AuditKind.optional(),
  q: z.string().max(100).optional(),
  cursor: Cursor.optional(),
  limit: Limit.optional(),
})
export type AuditQuery = z.infer<typeof AuditQuery>
export const SessionView = z
  .object({
    id: z.string(),
    person: z.string(),
    device: z.string(),
    since: Instant,
    seenAt: Instant,
    current: z.boolean(),
  })
  .meta({ id: 'Session' })
export type SessionView = z.infer<typeof SessionView>
export const Action = z.enum([
  'read',
  'ask',
  'take',
  'order',
  'book',
  'reverse',
  'override',
  'see_value',
  'set_up',
  'close_month',
])
export type Action = z.infer<typeof Action>
/** The one table of who may do what. */
export const Rights = z
  .object({ roles: z.array(z.object({ role: Role, may: z.array(Action) })) })
  .meta({ id: 'Rights' })
/** One's own password by a new one; the old one says that it is oneself. */
export const PasswordInput = z.object({ password: z.string().max(200), fresh: Password }).meta({ id: 'PasswordInput' })
export const SignInInput = z
  .object({ signIn: z.string().max(60), password: z.string().max(200) })
  .meta({ id: 'SignIn' })
/** A backup that was put in place: when, and when the last was written that stands in it. What was written after that is gone. */
export const PutBack = z.object({ at: Instant, until: Instant.nullable() }).meta({ id: 'PutBack' })
export type PutBack = z.infer<typeof PutBack>
/** Who is signed in, what they may do, and how the organisation writes things. */
export const Me = z
  .object({
    person: z.object({ id: Uuid, name: z.string(), signIn: z.string(), role: Role }),
    may: z.partialRecord(Action, z.union([z.literal('everywhere'), z.array(Uuid)])),
    hasPin: z.boolean(),
    /** Signed in by badge or PIN alone: what a manager may do beyond a keeper needs the password. */
    lowered: z.boolean(),
    settings: Settings,
    now: Instant,
    expiresAt: Instant,
    /** The last thing that had happened: what a screen loads afterwards is followed from here. */ events: z
      .number()
      .int(),
    /** The last time; null: never. */
    putBack: PutBack.nullable(),
  })
  .meta({ id: 'Me' })
export type Me = z.infer<typeof Me>
export const Start = z
  .object({ empty: z.boolean(), name: Short.nullable(), demonstration: z.boolean(), zones: z.array(z.string()) })
  .meta({ id: 'Start' })
/** How tablets reach this server: over TLS with certificates of its own or given ones; the plain port shows how to trust it. */
export const Tablets = z
  .object({
    kind: z.enum(['off', 'own', 'given']),
    names: z.array(z.string()),
    plainPort: z.number().int().nullable(),
    authority: z.object({ fingerprint: z.string(), until: z.string() }).nullable(),
  })
  .meta({ id: 'Tablets' })
export type Tablets = z.infer<typeof Tablets>
export const Health = z
  .object({
    ok: z.boolean(),
    /** The database’s file is damaged: see the log. */ damaged: z.boolean(),
    seq: z.number().int(),
    version: z.string(),
  })
  .meta({ id: 'Health' })
export const PreferenceName = z.object({ name: z.string().regex(/^[a-z][a-z-]{0,39}$/) })
/** What somebody arranged, in the words of the screen that keeps it: small, and never read by the server. */
export const Preference = z.object({ value: z.string().max(8000).nullable() }).meta({ id: 'Preference' })
