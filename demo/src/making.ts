import type { Station } from './station.ts'

/** Reagents were made last week, and something of them is out already: a lot that is recalled is found in all of it. Written down today. */
export function makeReagents(s: Station, now: number): void {
  const at = now - 4 * 86_400_000
  const place = s.areas.get('Wet lab')!
  const line = (code: string, typed: string, more: object = {}) => ({
    id: s.app.uid(),
    item: s.items.get(code)!,
    typed,
    ...more,
  })
  const day = (n: number) => new Date(at + n * 86_400_000).toISOString().slice(0, 10)
  const hour = (n: number) => ({ effectiveAt: new Date(at + n * 3_600_000).toISOString() })
  s.book('ines', now, {
    ...hour(0),
    kind: 'make',
    place,
    lines: [line('RIN-E', '2.5', { side: 'out', lot: { code: 'RE-47', expiry: day(180) } }), line('ETH-96', '1.8230')],
  })
  for (const [i, code] of ['PW-12', 'PW-13'].entries())
    s.book('ines', now, {
      ...hour(2 + i),
      kind: 'make',
      place,
      lines: [
        line('WAS-P', '1', { side: 'out', lot: { code, expiry: day(90) } }),
        line('RIN-E', '0.408'),
        line('ISO-P', '0.6'),
      ],
    })
  const [job] = s.jobs.get('Wet lab')!
  s.book('ines', now, {
    ...hour(26),
    kind: 'issue',
    place,
    taker: 'Bram',
    head: { job: job! },
    lines: [line('WAS-P', '1.3'), line('RIN-E', '0.2')],
  })
}
