import { existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { dropUnnamed, PICTURES } from '../ledger/pictures.ts'
import { backupApart } from './backup-apart.ts'
import { BACKUPS } from './forward.ts'

/** How often a backup is taken (hours; 0: never), and how many are kept. Those before a change of version are kept beside them. */
export interface BackupPlan { readonly hours: number; readonly keep: number }
export interface BackupFile { readonly name: string; readonly at: number; readonly bytes: number }
const NAME = /^shelve-.*\.sqlite$/

/** The backups there are, the latest first. */
export function backupsIn(directory: string): BackupFile[] {
  const folder = join(directory, BACKUPS)
  if (!existsSync(folder)) return []
  return readdirSync(folder).filter(n => n.endsWith('.sqlite')).map(name => { const s = statSync(join(folder, name)); return { name, at: s.mtimeMs, bytes: s.size } }).sort((a, b) => b.at - a.at)
}

/** Takes a backup now and lets the oldest of the regular ones go. Only one at a time. */
export class Backups {
  #running: Promise<BackupFile> | undefined
  #timer: NodeJS.Timeout | undefined
  lastTrouble: string | null = null
  /** What is put in order before each: set by whoever has the database open. */
  tidy: () => void = () => undefined
  constructor(readonly directory: string, readonly plan: BackupPlan, readonly now: () => number, readonly tell: (message: string, trouble?: Error) => void = () => undefined) {}

  take(): Promise<BackupFile> { return this.#running ??= this.#take().finally(() => { this.#running = undefined }) }
  async #take(): Promise<BackupFile> {
    const folder = join(this.directory, BACKUPS)
    mkdirSync(folder, { recursive: true })
    const name = `shelve-${new Date(this.now()).toISOString().slice(0, 19).replace(/[:T]/g, '-')}.sqlite`
    try { this.tidy(); await backupApart(this.directory, join(folder, name)) } catch (e) { this.lastTrouble = (e as Error).message; throw e }
    this.lastTrouble = null
    for (const old of backupsIn(this.directory).filter(b => NAME.test(b.name)).slice(Math.max(1, this.plan.keep))) for (const end of ['', '.sha256']) rmSync(join(folder, old.name + end), { force: true })
    dropUnnamed(join(folder, PICTURES), backupsIn(this.directory).map(b => join(folder, b.name)))
    this.tell(`backup ${name} is written`)
    return backupsIn(this.directory).find(b => b.name === name)!
  }
  due(): boolean {
    const last = backupsIn(this.directory).find(b => NAME.test(b.name))
    return this.plan.hours > 0 && (!last || Date.now() - last.at >= this.plan.hours * 3_600_000)
  }
  /** Looks every few minutes whether one is due; a failed one is tried again the next time. */
  start(everyMs = 300_000): void {
    const look = () => { if (this.due()) this.take().catch((e: unknown) => this.tell('the backup could not be written', e as Error)) }
    this.#timer = setInterval(look, everyMs)
    this.#timer.unref()
    setTimeout(look, Math.min(everyMs, 20_000)).unref()
  }
  stop(): void { clearInterval(this.#timer) }
}
