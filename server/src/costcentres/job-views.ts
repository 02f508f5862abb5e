import { and, desc, eq, inArray, notInArray, or, type SQL, sql } from 'drizzle-orm'
import type { Job } from '@shelve/contract'
import { ownCode } from '@shelve/core'
import { holds, startsWith } from '../ground/index.ts'
import type { House } from './house.ts'
import { costCentre, ENDED, job } from './tables.ts'

/** So many of those that are not in use are told at once. */
const MOST = 100

export interface JobsAsked {
  readonly over?: 'yes' | undefined
  readonly q?: string | undefined
  readonly job?: string | undefined
}

/** Jobs that are in use, by name; or one; or the latest that are not in use any more, with how many more there are of them. */
export function jobViews(house: House, { over, q, job: one }: JobsAsked): { rows: Job[]; more: number } {
  if (one !== undefined) return { rows: views(house, eq(job.uid, one)), more: 0 }
  const ended = inArray(job.state, [...ENDED])
  if (!over) return { rows: views(house, notInArray(job.state, [...ENDED])), more: countOf(house, ended) }
  const meant = and(ended, q?.trim() ? or(holds(job.name, q.trim()), startsWith(job.code, q.trim())) : undefined)
  const rows = views(house, meant, MOST)
  return { rows, more: countOf(house, meant) - rows.length }
}

const countOf = (house: House, where: SQL | undefined): number =>
  house.db
    .select({ n: sql<number>`count(*)`.mapWith(Number) })
    .from(job)
    .where(where)
    .get()!.n

function views(house: House, where: SQL | undefined, latest?: number): Job[] {
  const rows = house.db
    .select({ j: job, centre: costCentre })
    .from(job)
    .leftJoin(costCentre, eq(costCentre.id, job.costCentreId))
    .where(where)
    .orderBy(latest === undefined ? job.name : desc(job.id))
    .limit(latest ?? -1)
    .all()
  return rows.map(r => ({
    id: r.j.uid,
    code: r.j.code,
    name: r.j.name,
    state: r.j.state,
    active: !ENDED.includes(r.j.state),
    own: ownCode('job', r.j.id),
    costCentre: r.centre ? { id: r.centre.uid, name: r.centre.name } : null,
  }))
}
