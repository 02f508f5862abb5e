// The sources are TypeScript, and a thread does not inherit the loader that its server was started with.
import { register } from 'tsx/esm/api'

register()
await import('./writer-thread.ts')
