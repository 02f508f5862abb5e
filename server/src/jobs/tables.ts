import { sql } from 'drizzle-orm'
import { check, index, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { item } from '../catalogue/index.ts'
import { job } from '../costcentres/index.ts'
import { bool, instant, int, quantity, rowid } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { place } from '../places/index.ts'

/** How something is done again and again; what it says stands in its versions. */
export const template = sqliteTable(
  'template',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    code: text().notNull().unique(),
    name: text().notNull(),
    /** What it makes; nothing: it only uses. */
    outputId: int().references(() => item.id),
    active: bool().notNull(),
    version: int().notNull(),
  },
  t => [
    // What is needed of a part is worked out by the one way in which it is made.
    uniqueIndex('template_makes')
      .on(t.outputId)
      .where(sql`${t.active} = 1 and ${t.outputId} is not null`),
  ],
)

/** A template as it was saved once: never changed, since what was begun by it goes on by it. */
export const templateVersion = sqliteTable(
  'template_version',
  {
    templateId: int()
      .notNull()
      .references(() => template.id),
    version: int().notNull(),
    content: text().notNull(),
    savedAt: instant().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [primaryKey({ columns: [t.templateId, t.version] }), index('template_version_by').on(t.savedBy)],
)

/** What comes of a template beside what it makes, so that it is found by that. */
export const templateBeside = sqliteTable(
  'template_beside',
  {
    templateId: int()
      .notNull()
      .references(() => template.id),
    version: int().notNull(),
    itemId: int()
      .notNull()
      .references(() => item.id),
  },
  t => [primaryKey({ columns: [t.templateId, t.version, t.itemId] }), index('template_beside_item').on(t.itemId)],
)

/**
 * What a job is planned to be: where, by when, by what template and for how much. A job without a plan is only a name that
 * slips are charged to. What it needs stands in `need`.
 */
export const jobPlan = sqliteTable(
  'job_plan',
  {
    jobId: int()
      .primaryKey()
      .references(() => job.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    day: text(),
    time: text().notNull(),
    personId: int().references(() => person.id),
    /** By what another system calls it: it may say it again, and means the same job. */
    reference: text().notNull(),
    note: text().notNull(),
    /** The version of a template that it keeps to, whatever the template says later. */
    templateId: int().references(() => template.id),
    templateVersion: int(),
    /** For how much, as it was typed and in base units (of what only uses: runs). */
    typed: text().notNull(),
    unit: text(),
    wanted: quantity().notNull(),
    /** What comes of it. */
    outputId: int().references(() => item.id),
    /** The job that it is made for. */
    parentId: int().references(() => job.id),
    /** When it comes again: a rule of RFC 5545 (empty: not by the calendar), or so many days after it is over. */
    repeats: text().notNull(),
    again: int(),
    /** The job that it is the next of. */
    followsId: int().references(() => job.id),
    /** Of its head, and of the whole paper: as of a slip's. */
    revision: int().notNull(),
    version: int().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [
    uniqueIndex('job_plan_reference')
      .on(t.reference)
      .where(sql`${t.reference} <> ''`),
    index('job_plan_output')
      .on(t.outputId)
      .where(sql`${t.outputId} is not null`),
    index('job_plan_parent')
      .on(t.parentId)
      .where(sql`${t.parentId} is not null`),
    index('job_plan_place').on(t.placeId),
    // One job comes again once.
    uniqueIndex('job_plan_follows')
      .on(t.followsId)
      .where(sql`${t.followsId} is not null`),
    check('job_plan_wanted', sql`${t.wanted} >= 0`),
  ],
)

/** The markers of lines that were taken off a job. */
export const needTakenOff = sqliteTable(
  'need_taken_off',
  {
    uid: text().primaryKey(),
    jobId: int()
      .notNull()
      .references(() => job.id),
    revision: int().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [index('need_taken_off_job').on(t.jobId)],
)

/** Where what was picked for a job lies until it is used: one place in each area in which something ever was. */
export const jobWith = sqliteTable(
  'job_with',
  {
    placeId: int()
      .primaryKey()
      .references(() => place.id),
    jobId: int()
      .notNull()
      .references(() => job.id),
  },
  t => [index('job_with_job').on(t.jobId)],
)

/** What was picked and is ready to be fetched: a list that was booked, and who fetched it. The list itself is a slip. */
export const pickReady = sqliteTable(
  'pick_ready',
  {
    slipId: int()
      .primaryKey()
      .references(() => slip.id),
    fetchedBy: text(),
    fetchedAt: instant(),
    /** Whoever said so. */
    saidBy: int().references(() => person.id),
  },
  t => [
    index('pick_ready_open')
      .on(t.slipId)
      .where(sql`${t.fetchedAt} is null`),
  ],
)
