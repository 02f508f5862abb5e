/** A cell that a spreadsheet might take for a formula gets an apostrophe in front; a plain negative number stays as it is. */
const harmless = (text: string): string => (/^[=+@\t\r]|^-(?!\d+(\.\d+)?$)/.test(text) ? `'${text}` : text)

/** One field by RFC 4180: quoted where it holds a comma, a quote or a line break. */
export const csvField = (value: string | number | bigint | null | undefined): string => {
  const text = value === null || value === undefined ? '' : typeof value === 'string' ? harmless(value) : String(value)
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}
/** One record by RFC 4180, ended by CR LF. */
export const csvRow = (values: readonly (string | number | bigint | null | undefined)[]): string =>
  `${values.map(csvField).join(',')}\r\n`
