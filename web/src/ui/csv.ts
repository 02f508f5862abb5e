import { ask } from '../shell/api.ts'

const TYPES = { csv: 'text/csv', pdf: 'application/pdf' } as const
/** Saves a list as it is shown: the same address, asked for as CSV or as PDF. The server names the file, with the export's number. */
export async function saveList(path: string, name: string, form: keyof typeof TYPES): Promise<void> {
  const { file, said } = await ask(
    path,
    { headers: { accept: TYPES[form] } },
    async answer => ({ file: await answer.blob(), said: answer.headers.get('content-disposition') ?? '' }),
    () => 'The server cannot be reached; the list is made there.',
  )
  saveAs(/filename="([^"]+)"/.exec(said)?.[1] ?? `${name}.${form}`, file)
}
/** Saves a text that is made here. */
export const saveText = (name: string, text: string): void => saveAs(name, new Blob([text], { type: TYPES.csv }))
function saveAs(name: string, file: Blob): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(file)
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
