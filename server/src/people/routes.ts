import { type Handlers, MAY, ROLE_ORDER } from '../rights/index.ts'
import type { House } from './house.ts'
import { newPassword } from './passwords.ts'
import { addPerson, changePerson, newBadge, peopleList, peopleUid, setPassword, setPin } from './people.ts'
import { keepPreference, preferenceOf } from './preferences.ts'
import { begun, changeHands, cookieOf, endSession, endSessionByUid, sessionList, signIn } from './sessions.ts'
import { changeSettings, meOf, settingsOf } from './settings.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House, secure: boolean) {
  return {
    signIn: async ({ body, device, setCookie }) =>
      begun(house, await signIn(house, body.signIn, body.password, device), setCookie, secure),
    changeHands: async ({ body, token, device, setCookie, caller }) => {
      const next = begun(house, await changeHands(house, body, device), setCookie, secure)
      // Whoever had the device until now is signed out on it.
      endSession(house, token!)
      house.events.endSession(caller.session)
      return next
    },
    setPassword: async ({ body, caller }) => {
      await setPassword(house, caller, body.password, body.fresh)
      return undefined
    },
    setPin: async ({ body, caller }) => {
      await setPin(house, caller, body.password, body.pin)
      return undefined
    },
    sessions: ({ caller }) => ({ rows: sessionList(house, caller) }),
    endSession: ({ params, caller }) => {
      endSessionByUid(house, caller, params.id)
      return undefined
    },
    rights: () => ({ roles: ROLE_ORDER.map(role => ({ role, may: [...MAY[role]] })) }),
    me: ({ caller }) => meOf(house, caller),
    signOut: ({ token, setCookie }) => {
      endSession(house, token!)
      setCookie(cookieOf('', 0, secure))
      return undefined
    },
    people: () => ({ rows: peopleList(house) }),
    createPerson: async ({ body }) => {
      const passwordHash = await newPassword(body.password, body.signIn)
      const id = house.setUp(() => addPerson(house, { ...body, passwordHash }), 'names')
      return { id: peopleUid(house, id) }
    },
    changePerson: async ({ params, body, revision }) => {
      const passwordHash = body.password === null ? undefined : await newPassword(body.password, '')
      house.setUp(() => changePerson(house, params.id, body, passwordHash, revision), 'names')
      return { id: params.id }
    },
    newBadge: ({ params }) => ({ badge: house.setUp(() => newBadge(house, params.id), 'names') }),
    settings: ({ body }) => {
      house.setUp(() => changeSettings(house, body))
      return settingsOf(house)
    },
    preference: ({ params, caller }) => ({ value: preferenceOf(house, caller.id, params.name) }),
    setPreference: ({ params, body, caller }) => {
      keepPreference(house, caller.id, params.name, body.value)
      return body
    },
  } satisfies Partial<Handlers>
}
