/** Moving: from shelf to shelf. */
export { kinds } from './kind.ts'
