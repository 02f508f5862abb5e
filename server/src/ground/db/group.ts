import Database from 'better-sqlite3'

/**
 * Shared commits: bookings that already wait share one durable commit, each under a savepoint of its own, so that a
 * refused one leaves the others alone. Nobody waits for company; every answer comes after the commit.
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
  const group = client.transaction((jobs: Job[]) =>
    jobs.map(j => {
      try {
        const v = savepoint(j.run)
        return () => j.ok(v)
      } catch (e) {
        if (!client.inTransaction) throw e
        return () => j.no(e)
      }
    }),
  )
  const flush = () => {
    due = false
    const jobs = queue.splice(0, most)
    if (queue.length) {
      due = true
      setImmediate(flush)
    }
    let answers: (() => void)[]
    try {
      answers = group.immediate(jobs)
    } catch (e) {
      // The commit failed (a full disk, say): nobody is told yes.
      for (const j of jobs) j.no(e)
      return
    }
    for (const a of answers) a()
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
