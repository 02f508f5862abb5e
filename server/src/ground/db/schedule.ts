import { existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { dropUnnamed, PICTURES } from '../files.ts'
import { backupApart, damageApart } from './backup-apart.ts'
import { backup, DATABASE } from './backup.ts'
import { BACKUPS } from './forward.ts'

/** How often a backup is taken (hours; 0: never), and how many are kept. Those before a change of version are kept beside them. */
export interface BackupPlan {
  readonly hours: number
  readonly keep: number
}

export interface BackupFile {
  readonly name: string
  readonly at: number
  readonly bytes: number
}

const NAME = /^shelve-.*\.sqlite$/

/** The backups there are, the latest first. */
export function backupsIn(directory: string): BackupFile[] {
  const folder = join(directory, BACKUPS)
  if (!existsSync(folder)) return []
  return readdirSync(folder)
    .filter(n => n.endsWith('.sqlite'))
    .map(name => {
      const s = statSync(join(folder, name))
      return { name, at: s.mtimeMs, bytes: s.size }
    })
    .sort((a, b) => b.at - a.at)
}

/** A backup that is to be taken: where the data lie, the file's name, and how many regular ones are kept. */
export interface BackupJob {
  readonly directory: string
  readonly name: string
  readonly keep: number
}
/** For a thread of its own: takes a backup, lets the oldest of the regular ones go, with what only they named. Gives its file. */
export async function takeInto({ directory, name, keep }: BackupJob): Promise<string> {
  const folder = join(directory, BACKUPS)
  mkdirSync(folder, { recursive: true })
  await backup(directory, join(folder, name))
  for (const old of backupsIn(directory)
    .filter(b => NAME.test(b.name))
    .slice(Math.max(1, keep)))
    for (const end of ['', '.sha256']) rmSync(join(folder, old.name + end), { force: true })
  dropUnnamed(
    join(folder, PICTURES),
    backupsIn(directory).map(b => join(folder, b.name)),
  )
  return join(folder, name)
}

/** Takes a backup now and lets the oldest of the regular ones go. Only one at a time. */
export class Backups {
  #running: Promise<BackupFile> | undefined
  readonly #timers: NodeJS.Timeout[] = []
  lastTrouble: string | null = null
  /** What is wrong with the database itself, as it was found a while after the start; null where nothing was. */
  damage: string | null = null
  /** What becomes of pictures that no slip showed in a backup begun at an instant: set by whoever has the database open. */
  unshown: (pictures: readonly string[], since: number) => void = () => undefined
  constructor(
    readonly directory: string,
    readonly plan: BackupPlan,
    readonly now: () => number,
    readonly tell: (message: string, trouble?: Error) => void = () => undefined,
  ) {}

  take(): Promise<BackupFile> {
    return (this.#running ??= this.#take().finally(() => {
      this.#running = undefined
    }))
  }
  async #take(): Promise<BackupFile> {
    const began = this.now()
    const name = `shelve-${new Date(began).toISOString().slice(0, 19).replace(/[:T]/g, '-')}.sqlite`
    let unshown: string[]
    try {
      unshown = await backupApart({ directory: this.directory, name, keep: this.plan.keep, now: began })
    } catch (e) {
      this.lastTrouble = (e as Error).message
      throw e
    }
    this.lastTrouble = null
    this.tell(`backup ${name} is written`)
    this.unshown(unshown, began)
    return backupsIn(this.directory).find(b => b.name === name)!
  }
  /** Reads the whole database once, beside the server: what is wrong with it is known before anybody works a day on it. */
  async examine(): Promise<void> {
    const file = join(this.directory, DATABASE)
    // What is not there is not damaged: that a backup says.
    if (!existsSync(file)) return
    this.damage = await damageApart(file)
    if (this.damage !== null) this.tell('the database is damaged', new Error(this.damage))
  }
  due(): boolean {
    const last = backupsIn(this.directory).find(b => NAME.test(b.name))
    return this.plan.hours > 0 && (!last || Date.now() - last.at >= this.plan.hours * 3_600_000)
  }
  /** Looks every few minutes whether one is due; a failed one is tried again the next time. */
  start(everyMs = 300_000): void {
    const told = (message: string) => (e: unknown) => this.tell(message, e as Error)
    const look = async () => {
      if (this.due()) await this.take()
    }
    const looks = () => void look().catch(told('the backup could not be written'))
    const examines = () => void this.examine().catch(told('the database could not be looked through'))
    this.#timers.push(
      setInterval(looks, everyMs).unref(),
      setTimeout(looks, Math.min(everyMs, 20_000)).unref(),
      setTimeout(examines, Math.min(everyMs, 10_000)).unref(),
    )
  }
  stop(): void {
    for (const t of this.#timers) clearTimeout(t)
  }
}
