import Database from 'better-sqlite3'

/** So long a group takes in more (ms): whoever was first does not wait for very many, or for one that takes long. */
const LONG = 25

/**
 * Shared commits: bookings that already wait share one durable commit, each under a savepoint of its own, so that a
 * refused one leaves the others alone. Nobody waits for company; every answer comes after the commit. A group ends after
 * `most` of them, or when it has taken long.
 */
export function shareCommits(client: Database.Database, most = 16): <T>(run: () => T) => Promise<T> {
  interface Job {
    readonly run: () => unknown
    readonly ok: (v: unknown) => void
    readonly no: (e: unknown) => void
  }
  const queue: Job[] = []
  let due = false
  const savepoint = client.transaction((run: () => unknown) => run())
  const one = (j: Job) => {
    try {
      const v = savepoint(j.run)
      return () => j.ok(v)
    } catch (e) {
      if (!client.inTransaction) throw e
      return () => j.no(e)
    }
  }
  /** One alone needs no savepoint: what it wrote goes with the transaction, and pages are not copied for it. */
  const alone = client.transaction((run: () => unknown) => run())
  const group = client.transaction((jobs: Job[]) => {
    const began = performance.now()
    const answers: (() => void)[] = []
    while (answers.length < jobs.length && (!answers.length || performance.now() - began < LONG))
      answers.push(one(jobs[answers.length]!))
    return answers
  })
  const flush = () => {
    due = false
    const jobs = queue.splice(0, most)
    if (jobs.length === 1) {
      const [job] = jobs as [Job]
      try {
        job.ok(alone.immediate(job.run))
      } catch (e) {
        job.no(e)
      }
      return
    }
    try {
      const answers = group.immediate(jobs)
      // Those that it did not take in are first in the next.
      queue.unshift(...jobs.slice(answers.length))
      for (const a of answers) a()
    } catch (e) {
      // The commit failed (a full disk, say): nobody is told yes.
      for (const j of jobs) j.no(e)
    }
    if (queue.length && !due) {
      due = true
      setImmediate(flush)
    }
  }
  return <T>(run: () => T) =>
    new Promise<T>((ok, no) => {
      queue.push({ run, ok: ok as (v: unknown) => void, no })
      if (!due) {
        due = true
        setImmediate(flush)
      }
    })
}
