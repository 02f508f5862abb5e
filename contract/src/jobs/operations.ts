import { z } from 'zod'
import { page, Short, Uuid } from '../common.ts'
import { found, id, list, op, place } from '../operation.ts'
import { SlipLine } from '../papers/content.ts'
import { idOf } from '../things.ts'
import * as jobs from './jobs.ts'
import * as picks from './picks.ts'
import * as templates from './templates.ts'

/** What one may ask of this room. */
export const operations = {
  templates: op('get', '/api/templates', 'How things are done again and again', {
    answer: z.object({ rows: z.array(templates.TemplateRow) }),
  }),
  template: op('get', '/api/templates/:id', 'A template as it was saved last', {
    params: id.template,
    answer: templates.TemplateView,
  }),
  createTemplate: op('post', '/api/templates', 'A new template', {
    right: 'set_up',
    status: 201,
    body: templates.Template,
    answer: found,
  }),
  updateTemplate: op(
    'put',
    '/api/templates/:id',
    'A new version of a template; what was there stays as an earlier one',
    {
      right: 'set_up',
      params: id.template,
      body: templates.Template,
      answer: found,
      ifMatch: true,
    },
  ),
  templateNeeds: op('get', '/api/templates/:id/needs', 'What making so much of it takes, and whether it is there', {
    params: id.template,
    query: z.object({
      /** As somebody types it; nothing: what its lines are for. */
      wanted: z.string().max(60).optional(),
      unit: z.string().max(120).optional(),
      place: idOf('place').optional(),
    }),
    answer: templates.TemplateNeeds,
  }),
  createJob: op('post', '/api/jobs', 'A new job: by a template, like an earlier one, empty, or only a name to charge', {
    right: 'book',
    status: 201,
    body: jobs.NewJob,
    answer: found,
  }),
  plannedJobs: op('get', '/api/jobs/planned', 'Jobs that are not over, and whether they can be done', {
    query: place,
    answer: z.object({ rows: z.array(jobs.JobRow) }),
  }),
  jobsOver: op('get', '/api/jobs/over', 'Jobs that are over, the last first', {
    query: place.extend(list),
    answer: page(jobs.JobRow),
  }),
  itemNeeds: op('get', '/api/items/:id/needs', 'Which jobs need an item, the first due first', {
    params: id.item,
    query: place,
    answer: z.object({ rows: z.array(jobs.ItemNeed) }),
  }),
  jobPeople: op('get', '/api/jobs/people', 'Who may see to a job', {
    right: 'book',
    answer: z.object({ rows: z.array(z.object({ id: Uuid, name: z.string() })) }),
  }),
  job: op('get', '/api/jobs/:id', 'A job: what it needs, and whether it is there', {
    params: id.job,
    answer: jobs.JobView,
  }),
  saveJob: op('patch', '/api/jobs/:id', 'Saves what was changed of a job that is not over', {
    right: 'book',
    params: id.job,
    body: jobs.JobChanges,
    answer: jobs.JobSaved,
    ifMatch: true,
  }),
  jobState: op('post', '/api/jobs/:id/state', 'Says how far a job is; what is over frees what was set aside for it', {
    right: 'book',
    status: 201,
    params: id.job,
    body: z.object({ state: jobs.PlannedState }),
    answer: jobs.JobStated,
  }),
  reserveForJob: op('post', '/api/jobs/:id/reservations', 'Sets aside for a job what is here', {
    right: 'book',
    status: 201,
    params: id.job,
    body: jobs.Reserving,
    answer: jobs.JobView,
  }),
  freeOfJob: op('post', '/api/jobs/:id/freeing', 'What was set aside for a job is free again', {
    right: 'book',
    status: 201,
    params: id.job,
    body: jobs.Freeing,
    answer: jobs.JobView,
  }),
  takeInstead: op('post', '/api/jobs/:id/instead', 'Takes something else for a need, as the template allows', {
    right: 'book',
    status: 201,
    params: id.job,
    body: jobs.TakingInstead,
    answer: jobs.JobView,
  }),
  handOutForJob: op('post', '/api/jobs/:id/issue', 'What a job still needs, as an issue to be looked at', {
    right: 'book',
    status: 201,
    params: id.job,
    body: id.draft,
    answer: found,
  }),
  picks: op('get', '/api/picks', 'Lists that are picked, or lie ready to be fetched', {
    query: place.extend({ over: z.enum(['true', 'false']).default('false') }),
    answer: z.object({ rows: z.array(picks.PickRow) }),
  }),
  pick: op('get', '/api/picks/:id', 'A list that is picked: for which jobs, and what is not there for them', {
    params: id.slip,
    answer: picks.PickView,
  }),
  createPick: op('post', '/api/picks', 'A list of what some jobs need and is there, in the order of the walk', {
    right: 'book',
    status: 201,
    body: picks.NewPick,
    answer: found,
  }),
  pickMore: op('post', '/api/picks/:id/more', 'Adds to a list what its jobs still need and is here by now', {
    right: 'book',
    status: 201,
    params: id.slip,
    answer: picks.PickView,
  }),
  pickFetched: op('post', '/api/picks/:id/fetched', 'What lies ready was fetched, and by whom', {
    right: 'book',
    status: 201,
    params: id.slip,
    body: z.object({ by: Short.trim().min(1, 'who fetched it?') }),
    answer: picks.PickView,
  }),
  putBackOfJob: op('post', '/api/jobs/:id/putting-back', 'What lies with a job, as a move back to its shelves', {
    right: 'book',
    status: 201,
    params: id.job,
    body: id.draft,
    answer: found,
  }),
  makeForJob: op('post', '/api/jobs/:id/make', 'What a job makes, with what it takes, as a slip to be looked at', {
    right: 'book',
    status: 201,
    params: id.job,
    body: jobs.Making,
    answer: found,
  }),
  jobAmounts: op('get', '/api/jobs/:id/amounts', 'What goes into so much of what a job makes, and what comes of it', {
    right: 'book',
    params: id.job,
    query: z.object({
      /** As somebody types it; nothing: what is still to be made. */
      typed: z.string().max(60).optional(),
      unit: z.string().max(120).optional(),
    }),
    answer: z.object({ lines: z.array(SlipLine), /** More is to be made after that. */ goesOn: z.boolean() }),
  }),
  makeAnew: op('post', '/api/slips/:id/anew', 'A make as it was booked, as a slip that will stand in its place', {
    right: 'book',
    status: 201,
    params: id.slip,
    body: id.draft,
    answer: found,
  }),
  bringJobs: op('post', '/api/jobs/brought', 'Jobs from another system, by its own reference, again and again', {
    right: 'book',
    status: 201,
    body: jobs.JobsBrought,
    answer: jobs.JobsTaken,
  }),
} as const
