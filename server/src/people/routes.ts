import { type Handlers, MAY, ROLE_ORDER } from '../rights/index.ts'
import type { House } from './house.ts'
import { newPassword } from './passwords.ts'
import { addPerson, changePerson, newBadge, peopleList, peopleUid, setPassword, setPin } from './people.ts'
import { keepPreference, preferenceOf } from './preferences.ts'
import {
  badgeHolder,
  begun,
  changeHands,
  cookieOf,
  endSession,
  endSessionByUid,
  sessionList,
  signIn,
} from './sessions.ts'
import { changeSettings, meOf, settingsOf } from './settings.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    signIn: async input => begun(house, await signIn(house, input.body.signIn, input.body.password, input), input),
    changeHands: async input => {
      const { token } = input
      const next = begun(house, await changeHands(house, input.body, input), input)
      // Whoever had the device until now is signed out on it.
      endSession(house, token!)
      return next
    },
    badgeHolder: input => badgeHolder(house, input.body.badge, input),
    setPassword: async input => {
      await setPassword(house, input, input.body.password, input.body.fresh)
      return undefined
    },
    setPin: async input => {
      await setPin(house, input, input.body.password, input.body.pin)
      return undefined
    },
    sessions: ({ caller }) => ({ rows: sessionList(house, caller) }),
    endSession: input => {
      endSessionByUid(house, input, input.params.id)
      return undefined
    },
    rights: () => ({ roles: ROLE_ORDER.map(role => ({ role, may: [...MAY[role]] })) }),
    me: ({ caller }) => meOf(house, caller),
    signOut: ({ token, setCookie, secure }) => {
      endSession(house, token!)
      setCookie(cookieOf('', 0, secure))
      return undefined
    },
    people: () => ({ rows: peopleList(house) }),
    createPerson: async input => {
      const { body } = input
      const passwordHash = await newPassword(body.password, body.signIn)
      const id = house.setUp(() => addPerson(house, { ...body, passwordHash }, input), 'names')
      return { id: peopleUid(house, id) }
    },
    changePerson: async input => {
      const { params, body, revision } = input
      const passwordHash = body.password === null ? undefined : await newPassword(body.password, '')
      house.setUp(() => changePerson(house, params.id, body, passwordHash, revision, input), 'names')
      return { id: params.id }
    },
    newBadge: input => ({ badge: house.setUp(() => newBadge(house, input.params.id, input), 'names') }),
    settings: input => {
      house.setUp(() => changeSettings(house, input.body, input))
      return settingsOf(house)
    },
    preference: ({ params, caller }) => ({ value: preferenceOf(house, caller.id, params.name) }),
    setPreference: ({ params, body, caller }) => {
      keepPreference(house, caller.id, params.name, body.value)
      return body
    },
  } satisfies Partial<Handlers>
}
