import { server } from '../../tools/setup.mjs'

/** The server and its command as they are started in use: bundled, which also takes a fraction of a loader's time. */
export const MAIN = server('main')
export const CLI = server('cli')
