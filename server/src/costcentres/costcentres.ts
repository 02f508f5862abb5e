import { sql } from 'drizzle-orm'
import { notFound, Refused } from '../ground/index.ts'
import type { House } from './house.ts'
import { costCentre, job } from './tables.ts'

export function createCostCentre(house: House, name: string, text: string | undefined): string {
  const c =
    text ??
    name
      .toUpperCase()
      .replace(/[^A-Z0-9]+/g, '-')
      .slice(0, 12)
  if (
    house.db
      .select()
      .from(costCentre)
      .where(sql`fold(${costCentre.code}) = fold(${c})`)
      .get()
  )
    throw new Refused(409, 'code_taken', `There is a cost centre ${c} already.`, [
      { field: 'code', code: 'code_taken', message: `There is a cost centre ${c} already.` },
    ])
  const uid = house.uid()
  house.db.insert(costCentre).values({ uid, code: c, name, active: true }).run()
  return uid
}

export function createJob(house: House, input: { code: string; name: string; costCentre?: string | null }): string {
  if (
    house.db
      .select()
      .from(job)
      .where(sql`fold(${job.code}) = fold(${input.code})`)
      .get()
  )
    throw new Refused(409, 'code_taken', `There is a job ${input.code} already.`, [
      { field: 'code', code: 'code_taken', message: `There is a job ${input.code} already.` },
    ])
  const centre = input.costCentre ? house.rows.costCentre.get({ uid: input.costCentre }) : undefined
  if (input.costCentre && !centre) throw notFound('cost centre')
  const uid = house.uid()
  house.db
    .insert(job)
    .values({ uid, code: input.code, name: input.name, costCentreId: centre?.id ?? null, state: 'standing' })
    .run()
  return uid
}
