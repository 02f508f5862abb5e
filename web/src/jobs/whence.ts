import type { JobLineView, JobState, Whence } from '@shelve/contract'
import type { useFormat } from '../ui/format.ts'

/** Where a need comes from, in a word, and how full its disc is. */
export const WHENCE: Record<Whence, { readonly word: string; readonly fill: number }> = {
  here: { word: 'Here', fill: 1 },
  made: { word: 'Made for it', fill: 0.5 },
  coming: { word: 'Coming in time', fill: 0.5 },
  elsewhere: { word: 'Elsewhere', fill: 0.5 },
  late: { word: 'Comes too late', fill: 0.25 },
  missing: { word: 'Missing', fill: 0.25 },
}
/** How far a job is, in words. */
export const JOB_STATES: Record<JobState, string> = {
  planned: 'planned',
  picking: 'being picked',
  in_work: 'in work',
  done: 'done',
  dropped: 'dropped',
  standing: 'only a name',
}

const more = (d: string) => Number(d) > 0
/** What is behind the word, in figures: what is here, what is kept for it, what comes when. */
export function behind(l: JobLineView, f: ReturnType<typeof useFormat>): string {
  const parts = [
    more(l.held) ? `${f.number(l.held)} kept for it` : '',
    more(l.here) ? `${f.number(l.here)} here` : '',
    more(l.coming)
      ? l.made
        ? `${f.number(l.coming)} of ${f.number(l.made.quantity)} made`
        : `${f.number(l.coming)} coming ${f.date(l.comesOn)}`
      : '',
    more(l.late) ? `${f.number(l.late)} coming ${f.date(l.lateOn)}` : '',
  ].filter(Boolean)
  // All of it simply lies here: the word has said so.
  if (l.whence === 'here' && parts.length === 1 && !more(l.held)) return ''
  return parts.join(', ')
}

/** The unit behind how much a job is for: what only uses is done so many times, or one time. */
export const unitFor = ({ wanted, wantedUnit }: { readonly wanted: string; readonly wantedUnit: string }): string =>
  wantedUnit === 'times' && wanted === '1' ? 'time' : wantedUnit

/** A bin where a job is done goes without the name of that place. */
export const binOf = (name: string, place: string): string =>
  name.startsWith(`${place}, `) ? name.slice(place.length + 2) : name
