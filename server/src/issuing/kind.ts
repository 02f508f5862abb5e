import type { SlipLine } from '@shelve/contract'
import { decimal, type DraftLine, formatDecimal, readParts, sharedOut } from '@shelve/core'
import { type Kind, outward, type Reading, receiverOf } from '../papers/index.ts'
import { wastedBy } from '../waste/index.ts'
import { bringBack, recharge } from './bring-back.ts'
import type { House } from './house.ts'

export const kinds = (house: House): readonly Kind[] => [
  {
    kind: 'issue',
    prefix: 'IS',
    title: ({ receiver }) => `to ${receiver ?? 'somebody'}`,
    byItem: () => true,
    lines: (r, line) => (line.reason === null ? issued(r, line) : spoiled(house, r, line)),
  },
  {
    kind: 'bring_back',
    prefix: 'BB',
    title: ({ receiver, first }) => (receiver ? `from ${receiver}` : first),
    lines: (r, line) => bringBack(house, r, line),
  },
  {
    kind: 'recharge',
    prefix: 'CH',
    title: ({ receiver }) => `to ${receiver ?? 'somebody'}`,
    lines: recharge,
  },
]

const issued = (r: Reading, line: SlipLine): DraftLine[] =>
  r.moved(line, (item, quantity) => {
    const taken = (to: number) => leaving(r, line, outward(r, line, item, quantity, to, { usable: true }))
    if (line.direct) return taken(r.straight(line, line.direct)).map(l => ({ ...l, ...ofJob(r.job(line)) }))
    if (!r.content.head.among.length) return taken(r.usedBy())
    const among = amongOf(r)
    if (!among) return []
    // Each lot is shared out: what one of them is charged is so much of every lot.
    return taken(among.accounts[0]!).flatMap(l =>
      sharedOut(l.quantity, among.weights).flatMap((part, i) =>
        part > 0n
          ? [
              {
                ...l,
                quantity: part,
                shared: true,
                to: among.accounts[i]!,
                ...ofJob(r.books.making.jobOf(among.accounts[i]!)),
              },
            ]
          : [],
      ),
    )
  })

/** What was read off a container holds as long as nobody took of it meanwhile: two who weigh it used it once. */
function leaving(r: Reading, line: SlipLine, lines: DraftLine[]): DraftLine[] {
  const [first] = lines
  if (line.leaves === '' || !first) return lines
  const lies = r.books.balance(first.itemId, first.lotId, first.from).quantity
  if (lines.length > 1 || lies - first.quantity !== decimal(line.leaves))
    r.no(line, 'left_otherwise', 'typed', {
      there: formatDecimal(lies),
      unit: r.house.known.itemById(first.itemId)!.unit,
    })
  return lines
}

/** A line that is for another job than its slip says so itself: the job finds it by that. */
const ofJob = (jobId: number | null): Pick<DraftLine, 'jobId'> => (jobId === null ? {} : { jobId })

/** For whom it is where that is several, and for which part each. */
function amongOf(r: Reading): { accounts: readonly number[]; weights: readonly bigint[] } | undefined {
  const { among, job, costCentre } = r.content.head
  if (job !== null || costCentre !== null) return void r.once('among_or_one', 'among')
  const accounts = among.map(a =>
    receiverOf(r.house, r.books.making, a, (code, name) => {
      if (code === 'for_whom' || r.begins) r.once(code, 'among', { name })
    }),
  )
  if (new Set(accounts).size < accounts.length) return void r.once('among_twice', 'among')
  const parts = readParts(among.map(a => a.percent))
  if (parts.ok) return { accounts, weights: parts.weights }
  if (parts.at === null) return void r.once('among_not_whole', 'among', { sum: parts.sum })
  return void r.once('not_a_part', 'among', { given: among[parts.at]!.percent.trim() })
}

/** What spoiled while it was handed out or used: wasted, of the job that it was for. */
function spoiled(house: House, r: Reading, line: SlipLine): DraftLine[] {
  const to = wastedBy(house, r, line)
  const lines = r.moved(line, (item, quantity) => outward(r, line, item, quantity, to))
  return lines.map(l => ({ ...l, jobId: r.job(line) }))
}
