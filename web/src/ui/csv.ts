import { ApiProblem } from '../shell/api.ts'
import type { Problem } from '@shelve/contract'

const TYPES = { csv: 'text/csv', pdf: 'application/pdf' } as const
/** Saves a list as it is shown: the same address, asked for as CSV or as PDF. The server names the file, with the export's number. */
export async function saveList(path: string, name: string, form: keyof typeof TYPES): Promise<void> {
  const response = await fetch(path, { headers: { accept: TYPES[form] } })
  if (!response.ok)
    throw response.headers.get('content-type')?.includes('problem+json')
      ? new ApiProblem((await response.json()) as Problem)
      : new Error(`The list could not be saved (${response.status}).`)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = /filename="([^"]+)"/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? `${name}.${form}`
  link.click()
  URL.revokeObjectURL(link.href)
}
