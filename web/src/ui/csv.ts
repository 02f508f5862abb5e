/** Saves a list as it is shown: the same address, asked for as CSV. */
export async function saveCsv(path: string, name: string): Promise<void> {
  const response = await fetch(path, { headers: { accept: 'text/csv' } })
  if (!response.ok) throw new Error(`The list could not be saved (${response.status}).`)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = /filename="([^"]+)"/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? name
  link.click()
  URL.revokeObjectURL(link.href)
}
