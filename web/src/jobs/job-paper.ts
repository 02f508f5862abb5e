import type { JobHead, JobLine, JobLineView, JobSaved, JobView } from '@shelve/contract'
import { usePaper } from '../papers/paper.ts'

const EMPTY: JobHead = {
  code: '',
  name: '',
  place: '',
  day: null,
  time: '',
  person: null,
  costCentre: null,
  reference: '',
  note: '',
  typed: '',
  unit: null,
  repeats: '',
  again: null,
}
const plain = ({ id, item, typed, unit, optional, from, note }: JobLine): JobLine => ({
  id,
  item,
  typed,
  unit,
  optional,
  from,
  note,
})
export const isOver = (v: Pick<JobView, 'state'>): boolean => v.state === 'done' || v.state === 'dropped'

/** One job: what it says and what it needs, written by several, with what the server knows of each need. */
export const useJobPaper = (id: () => string) =>
  usePaper<JobHead, JobLine, JobLineView, JobView>({
    id,
    path: '/api/jobs',
    kept: 'job.',
    empty: EMPTY,
    headOf: v => v.head,
    lineOf: plain,
    savedAt: v => v.savedAt,
    open: v => !isOver(v),
    over: { code: 'job_over', detail: 'This job is over: nothing is changed of it any more. Open it again first.' },
    inAnswer: s => (s as JobSaved).job,
    concerns: ['job', 'booked', 'setup', 'stock', 'restock'],
  })
