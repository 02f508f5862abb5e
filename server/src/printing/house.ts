/** What stands up to this room: nothing of its own beside people. */
export type { House } from '../people/index.ts'
