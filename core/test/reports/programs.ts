import { spawnSync } from 'node:child_process'

/** Independent programs: Debian's `ledger` and `hledger`. Both read the journal and work out every balance by themselves. */
const run = (program: string, args: string[], input: string): string => {
  const r = spawnSync(program, args, { input, encoding: 'utf8', maxBuffer: 1 << 28 })
  if (r.error) throw new Error(`${program} is needed for this test (Debian package ${program}): ${r.error.message}`)
  if (r.status !== 0) throw new Error(`${program}: ${r.stderr.slice(0, 500)}`)
  return r.stdout
}
const normal = (x: string) => (x.includes('.') ? x.replace(/0+$/, '').replace(/\.$/, '') : x)
/** Every balance that is not zero, by account, as `ledger` works it out. */
export function byLedger(text: string): Record<string, string> {
  const out = run(
    'ledger',
    ['-f', '-', 'bal', '--flat', '-E', '--no-total', '--format', '%(account)\t%(quantity(scrub(display_total)))\n'],
    text,
  )
  return Object.fromEntries(
    out
      .trim()
      .split('\n')
      .map(l => l.split('\t'))
      .filter(([a, q]) => a && normal(q!) !== '0')
      .map(([a, q]) => [a!, normal(q!)]),
  )
}
/** The same by `hledger`. */
export function byHledger(text: string): Record<string, string> {
  const out = run('hledger', ['-f', '-', 'bal', '--flat', '-E', '-N', '-O', 'csv', '--layout', 'bare'], text)
  return Object.fromEntries(
    out
      .trim()
      .split('\n')
      .slice(1)
      .map(l => /^"(.*)","(.*)","(.*)"$/.exec(l)!.slice(1))
      .filter(c => normal(c[2]!) !== '0')
      .map(c => [c[0]!, normal(c[2]!)]),
  )
}
/** Each account's change by month (`account month` → amount), as `hledger` works it out; what is zero is left out. */
export function monthsByHledger(text: string, accounts: string): Map<string, string> {
  const out = run(
    'hledger',
    ['-f', '-', 'bal', '-M', '-N', '-E', '--flat', '-O', 'csv', '--layout', 'tidy', accounts],
    text,
  )
  return new Map(
    out
      .trim()
      .split('\n')
      .slice(1)
      .map(l => /^"(.*)","(.*)",".*",".*",".*","(.*)"$/.exec(l)!.slice(1))
      .filter(c => normal(c[2]!) !== '0')
      .map(c => [`${c[0]} ${c[1]}`, normal(c[2]!)]),
  )
}
