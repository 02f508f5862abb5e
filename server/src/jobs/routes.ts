import { eq } from 'drizzle-orm'
import type { JobSaved, TakingInstead } from '@shelve/contract'
import { person } from '../people/index.ts'
import { type Caller, type Handlers, reach, scopeOf } from '../rights/index.ts'
import { bringJobs } from './brought.ts'
import { handOut, makeAnew, makeIt, makeLines } from './drafted.ts'
import type { House } from './house.ts'
import { takeInstead } from './instead.ts'
import { itemNeeds, jobRows, jobsOver } from './list.ts'
import { addToPick, createPick, fetched, pickRows, pickView, putBack } from './picks.ts'
import { needsView } from './needs.ts'
import { itemsOfJob } from './rows.ts'
import { free, reserve, setState } from './states.ts'
import { createTemplate, templateRows, templateView, updateTemplate } from './templates.ts'
import { jobView, lostView } from './view.ts'
import { beginJob, saveJob } from './writing.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  /** What changes a job, and with it what is wanted, kept and coming of its items. */
  const change = (run: () => number[]) => house.change('job', run, items => ({ items, setUp: 'names' }))
  /** A job as it is then; what is read of its items is read in pieces first. */
  const shows = async (id: string, caller: Caller) => {
    await house.stock.wanted(itemsOfJob(house, id))
    return jobView(house, caller, id)
  }
  /** Changes a job, and shows it as it is then. */
  const changed = <B>(run: (id: string, body: B, caller: Caller) => number[]) => ({
    does: ({ params, body, caller }: { params: { id: string }; body: B; caller: Caller }): string => {
      change(() => run(params.id, body, caller))
      return params.id
    },
    shows,
  })
  const showsPick = (id: string, caller: Caller) => pickView(house, caller, id)
  return {
    createJob: ({ body, caller }) => {
      const { id } = house.change(
        'job',
        () => beginJob(house, caller, body),
        ({ items }) => ({ items, setUp: 'names' }),
      )
      return { id }
    },
    plannedJobs: async ({ query, caller }) => ({
      rows: await jobRows(house, scopeOf(house, caller, query.place), reach(house, caller)),
    }),
    jobsOver: ({ query, caller }) => jobsOver(house, scopeOf(house, caller, query.place), query),
    itemNeeds: ({ params, query, caller }) => ({
      rows: itemNeeds(house, scopeOf(house, caller, query.place), reach(house, caller), params.id),
    }),
    jobPeople: () => ({
      rows: house.db
        .select({ id: person.uid, name: person.name })
        .from(person)
        .where(eq(person.active, true))
        .orderBy(person.name)
        .all(),
    }),
    job: ({ params, caller }) => shows(params.id, caller),
    saveJob: {
      does: ({ params, body, caller, revision }) => {
        const { saved } = house.change(
          'job',
          () => saveJob(house, caller, params.id, body, revision),
          ({ items, renamed }) => ({ items, setUp: renamed ? 'everything' : 'names' }),
        )
        return { id: params.id, saved }
      },
      shows: async ({ id, saved }: { id: string; saved: Omit<JobSaved, 'job'> }, caller) => ({
        ...saved,
        job: await shows(id, caller),
      }),
    },
    jobState: {
      does: ({ params, body, caller }) => {
        const { lost } = house.change(
          'job',
          () => setState(house, caller, params.id, body.state),
          ({ items }) => ({ items, setUp: 'names' }),
        )
        return { id: params.id, lost: lostView(house, lost) }
      },
      shows: async ({ id, lost }: { id: string; lost: ReturnType<typeof lostView> }, caller) => ({
        ...(await shows(id, caller)),
        lost,
      }),
    },
    reserveForJob: changed((id, body: Parameters<typeof reserve>[3], caller) => reserve(house, caller, id, body)),
    freeOfJob: changed((id, body: { readonly need: string | null }, caller) => free(house, caller, id, body.need)),
    takeInstead: changed((id, body: TakingInstead, caller) => takeInstead(house, caller, id, body)),
    handOutForJob: ({ params, body, caller }) => {
      house.change('job', () => handOut(house, caller, params.id, body.id))
      return body
    },
    picks: ({ query, caller }) => ({
      rows: pickRows(house, scopeOf(house, caller, query.place), query.over === 'true'),
    }),
    pick: ({ params, caller }) => showsPick(params.id, caller),
    createPick: ({ body, caller }) => {
      house.change(
        'job',
        () => createPick(house, caller, body),
        ({ placed }) => ({ setUp: placed ? 'passing' : 'names' }),
      )
      return { id: body.id }
    },
    pickMore: {
      does: ({ params, caller }) => {
        addToPick(house, caller, params.id)
        return params.id
      },
      shows: showsPick,
    },
    pickFetched: {
      does: ({ params, body, caller }) => {
        change(() => fetched(house, caller, params.id, body.by))
        return params.id
      },
      shows: showsPick,
    },
    putBackOfJob: ({ params, body, caller }) => {
      house.change('job', () => putBack(house, caller, params.id, body.id))
      return body
    },
    makeForJob: ({ params, body, caller }) => {
      house.change('job', () => makeIt(house, caller, params.id, body))
      return { id: body.id }
    },
    jobAmounts: ({ params, query, caller }) =>
      makeLines(house, caller, params.id, { typed: query.typed ?? '', unit: query.unit ?? null }),
    makeAnew: ({ params, body, caller }) => {
      house.change('draft', () => makeAnew(house, caller, params.id, body.id))
      return body
    },
    bringJobs: ({ body, caller }) => {
      const { rows } = house.change(
        'job',
        () => bringJobs(house, caller, body),
        ({ items }) => ({ items, setUp: 'names' }),
      )
      return { rows }
    },
    templates: () => ({ rows: templateRows(house) }),
    template: ({ params, caller }) => templateView(house, reach(house, caller), params.id),
    createTemplate: ({ body, caller }) => ({ id: house.setUp(() => createTemplate(house, caller, body), 'names') }),
    updateTemplate: ({ params, body, revision, caller }) => {
      house.setUp(() => updateTemplate(house, caller, params.id, body, revision), 'names')
      return { id: params.id }
    },
    templateNeeds: ({ params, query, caller }) => needsView(house, reach(house, caller), params.id, query),
  } satisfies Partial<Handlers>
}
