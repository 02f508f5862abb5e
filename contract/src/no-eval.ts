// Comes before any schema: in a page they are read without code that is made at run time. The page's policy forbids that, and
// some browsers write down each try.
import { config } from 'zod'

if ('document' in globalThis) config({ jitless: true })
