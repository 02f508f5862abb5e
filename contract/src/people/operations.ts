import { z } from 'zod'
import { page } from '../common.ts'
import { found, id, op } from '../operation.ts'
import * as people from './people.ts'

/** What one may ask of this room. */
export const operations = {
  signIn: op('post', '/api/session', 'Signs in', {
    right: 'none',
    status: 201,
    body: people.SignInInput,
    answer: people.Me,
  }),
  me: op('get', '/api/session', 'Who is signed in', { answer: people.Me }),
  signOut: op('delete', '/api/session', 'Signs out', {}),
  people: op('get', '/api/people', 'Everybody, and what they may do', {
    right: 'set_up',
    answer: z.object({ rows: z.array(people.Person) }),
  }),
  createPerson: op('post', '/api/people', 'A new person', {
    right: 'set_up',
    secret: true,
    status: 201,
    body: people.NewPerson,
    answer: found,
  }),
  changePerson: op(
    'put',
    '/api/people/:id',
    'Changes what somebody may do; taken out of use, they are signed out everywhere',
    { right: 'set_up', secret: true, params: id.person, body: people.ChangedPerson, answer: found, ifMatch: true },
  ),
  newBadge: op('post', '/api/people/:id/badge', 'A new badge; the old one is void', {
    right: 'set_up',
    secret: true,
    status: 201,
    params: id.person,
    answer: z.object({ badge: z.string() }),
  }),
  setPassword: op('put', '/api/session/password', 'Changes one’s own password; one stays signed in here alone', {
    secret: true,
    body: people.PasswordInput,
  }),
  setPin: op('put', '/api/session/pin', 'Sets or takes away one’s own PIN', { secret: true, body: people.PinInput }),
  changeHands: op('post', '/api/session/hands', 'Another person takes over this device, by badge or PIN', {
    secret: true,
    status: 201,
    body: people.HandsInput,
    answer: people.Me,
  }),
  badgeHolder: op('post', '/api/session/badge', 'Whose badge it is: who takes something, or brings it', {
    right: 'book',
    secret: true,
    status: 201,
    body: people.BadgeInput,
    answer: people.BadgeHolder,
  }),
  sessions: op('get', '/api/sessions', 'Who is signed in where', {
    answer: z.object({ rows: z.array(people.SessionView) }),
  }),
  audit: op('get', '/api/audit', 'Who changed what of rights and settings, and who was not let in', {
    right: 'set_up',
    csv: true,
    query: people.AuditQuery,
    answer: page(people.AuditEntry),
  }),
  endSession: op('delete', '/api/sessions/:id', 'Signs somebody out from afar', { params: id.session }),
  rights: op('get', '/api/rights', 'Who may do what', { answer: people.Rights }),
  settings: op('put', '/api/settings', 'Changes how the organisation works', {
    right: 'set_up',
    body: people.SettingsChange,
    answer: people.Settings,
  }),

  preference: op('get', '/api/preferences/:name', 'What one arranged to one’s taste', {
    params: people.PreferenceName,
    answer: people.Preference,
  }),
  setPreference: op('put', '/api/preferences/:name', 'Keeps what one arranged', {
    params: people.PreferenceName,
    body: people.Preference,
    answer: people.Preference,
  }),
} as const
