/**
 * The text of a file, however its letters are written: by its mark (UTF-8, UTF-16; Unicode 15, 23.8), else as UTF-8, else,
 * where it is none, as the one-byte letters that spreadsheets of western Europe write (windows-1252, as the WHATWG Encoding
 * Standard maps them).
 */
export function textOf(bytes: Uint8Array): string {
  const as = (encoding: string, fatal = false) => new TextDecoder(encoding, { fatal }).decode(bytes)
  const [first, second] = bytes
  if (first === 0xff && second === 0xfe) return as('utf-16le')
  if (first === 0xfe && second === 0xff) return as('utf-16be')
  try {
    return as('utf-8', true)
  } catch {
    return as('windows-1252')
  }
}
/** The text of the file that was chosen in a box; chosen again, it is read again: it may be another by then. */
export async function textChosen(e: Event): Promise<string | undefined> {
  const box = e.target as HTMLInputElement
  const [file] = box.files ?? []
  const text = file && textOf(new Uint8Array(await file.arrayBuffer()))
  box.value = ''
  return text
}
