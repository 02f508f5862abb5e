/** What is typed after one more key of the number pad: digits join, a pack or `+` begins a new term, the base unit ends one. */
export function pressed(typed: string, key: string, base: string): string {
  if (key === 'back') return typed.replace(/(\s*\+\s*|\s+\S+|.)$/, '')
  if (key === '+') return /[\d\w]$/.test(typed.trim()) ? `${typed.trim()} + ` : typed
  if (/^[\d.]$/.test(key)) return /\p{L}$/u.test(typed) ? `${typed} + ${key}` : typed + key
  return /\d\s*$/.test(typed) ? `${typed.trim()} ${key === base ? '' : key}`.trim() : typed
}
