import { alike, fateOf, type StoredLine } from '@shelve/core'
import type { Answer, Asked } from './browser.ts'

type Content = Record<string, unknown>
interface Sent {
  readonly id: string
  readonly seen: number
  readonly position: number
  readonly line: Content | null
}
const problem = (status: number, code: string): Answer => ({
  status,
  body: { type: '', title: code, status, code, detail: `said ${code}`, fields: [] },
})

/** As much of the server as keeps drafts: judged by the same rule, each draft with its versions. */
export class PaperServer {
  readonly drafts = new Map<
    string,
    {
      kind: string
      version: number
      revision: number
      head: Content
      by: string
      lines: Map<string, StoredLine<Content> & { by: string }>
    }
  >()
  /** Numbers of those that were booked. */
  readonly booked = new Map<string, string>()

  answer(a: Asked, by = 'Ines'): Answer | undefined {
    const [, id, rest] = /^\/api\/slips\/([^/?]+)(\/draft)?/.exec(a.path) ?? []
    if (!id || (a.path.includes('/', 12) && !rest)) return undefined
    if (this.booked.has(id)) return problem(409, 'booked_already')
    if (a.method === 'PUT') return this.#begin(id, a.body as Content & { lines: (Content & { id: string })[] }, by)
    if (!this.drafts.has(id)) return problem(404, 'not_found')
    if (a.method === 'PATCH') return this.save(id, a.body as { head?: Content; lines: Sent[] }, Number(a.revision), by)
    if (a.method === 'DELETE') {
      if (Number(a.revision) !== this.drafts.get(id)!.version) return problem(409, 'changed_meanwhile')
      this.drafts.delete(id)
      return { status: 204 }
    }
    return rest ? this.#read(id, Number(/since=(\d+)/.exec(a.path)?.[1] ?? 0)) : undefined
  }
  #begin(id: string, { kind, lines, ...head }: Content & { lines: (Content & { id: string })[] }, by: string): Answer {
    if (this.drafts.has(id)) return problem(409, 'draft_there')
    this.drafts.set(id, {
      kind: String(kind),
      version: 1,
      revision: 1,
      head,
      by,
      lines: new Map(
        lines.map(({ id: l, ...content }, i) => [l, { revision: 1, position: (i + 1) * 1000, content, by }]),
      ),
    })
    const stands = [...this.drafts.get(id)!.lines].map(([l, s]) => ({
      id: l,
      revision: 1,
      position: s.position,
      was: null,
    }))
    return { body: this.#saved(id, stands, [], null, 0) }
  }
  save(id: string, changes: { head?: Content; lines: Sent[] }, seen: number, by: string): Answer {
    const d = this.drafts.get(id)!
    const before = d.version
    const version = before + 1
    const lines = []
    const stale = []
    for (const c of changes.lines) {
      const there = d.lines.get(c.id)
      const fate = fateOf(there, { ...c, content: c.line }, alike)
      if (fate === 'stale') {
        stale.push({ id: c.id, was: null, ...there!, yours: c.line, theirs: there!.content })
        continue
      }
      if (fate === 'write') {
        d.lines.set(c.id, { revision: version, position: c.position, content: c.line, by })
        d.version = version
      }
      lines.push({ id: c.id, was: null, revision: d.lines.get(c.id)!.revision, position: c.position })
    }
    let head = null
    if (changes.head && !alike(changes.head, d.head)) {
      if (seen === d.revision) Object.assign(d, { head: changes.head, revision: version, version, by })
      else head = { revision: d.revision, by: d.by, theirs: d.head }
    }
    return { body: this.#saved(id, lines, stale, head, before) }
  }
  #saved(id: string, lines: object[], stale: object[], head: object | null, before: number) {
    const { version, revision } = this.drafts.get(id)!
    return { id, version, before, revision, savedAt: '2026-11-25T10:00:00Z', lines, stale: { head, lines: stale } }
  }
  #read(id: string, since: number): Answer {
    const d = this.drafts.get(id)!
    return {
      body: {
        id,
        kind: d.kind,
        version: d.version,
        revision: d.revision,
        savedAt: '2026-11-25T10:00:00Z',
        by: d.by,
        head: d.head,
        lines: [...d.lines]
          .filter(([, l]) => l.revision > since && (since > 0 || l.content !== null))
          .map(([l, s]) => ({ id: l, revision: s.revision, position: s.position, by: s.by, line: s.content })),
      },
    }
  }
  /** Somebody else saves something on a draft. */
  by(name: string, id: string, line: string | null, content: Content | null, head?: Content) {
    const d = this.drafts.get(id)!
    const there = line === null ? undefined : d.lines.get(line)
    const whole = content && { ...(there?.content ?? {}), ...content }
    const lines =
      line === null ? [] : [{ id: line, seen: there?.revision ?? 0, position: there?.position ?? 9e6, line: whole }]
    this.save(id, { lines, ...(head ? { head: { ...d.head, ...head } } : {}) }, d.revision, name)
  }
  typed = (id: string) => [...this.drafts.get(id)!.lines.values()].flatMap(l => (l.content ? [l.content.typed] : []))
}
