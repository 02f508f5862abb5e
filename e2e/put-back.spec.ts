// A backup is put in place while devices are in use: what stands on them is saved again, they hear what happens from then on, and
// each is told once.
import { spawnSync } from 'node:child_process'
import { cpSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, go, isFor, item, MADE, onHand, scan, signIn, type Stage, start, test } from './stage.ts'

const command = fileURLToPath(new URL('../server/dist/cli.mjs', import.meta.url))
const TOLD = /A backup was put in place .* was written after it was taken is missing/

test('a backup is put in place while two are at work', async ({ page, browser }) => {
  const data = mkdtempSync(join(tmpdir(), 'shelve-browser-'))
  cpSync(MADE, data, { recursive: true })
  const shelve = (...words: string[]) => {
    const env = { ...process.env, SHELVE_DATA: data }
    const done = spawnSync(process.execPath, [command, ...words], { env, encoding: 'utf8' })
    expect(done.status, done.stdout + done.stderr).toBe(0)
  }
  let { stage, child } = await start(data, true)
  const stages: Stage[] = [stage]
  const end = async () => {
    const ended = new Promise(done => child.once('exit', done))
    child.kill('SIGTERM')
    await ended
  }
  await signIn(page, stage, 'ines', 'Wet lab')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, stage, 'ruben', 'Wet lab')
  const [gloves, agar] = [await item(page, stage, 'GLV-M'), await item(page, stage, 'AGR-M')]
  const asks = async <T>(path: string) => (await (await page.request.get(stage.url + path)).json()) as T
  const drafts = async () =>
    (await asks<{ rows: { id: string }[] }>('/api/slips?state=draft&limit=200')).rows.map(r => r.id)
  const others = new Set(await drafts())

  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  await scan(page, gloves.codes[0]!)
  await expect.poll(async () => (await drafts()).filter(id => !others.has(id)).length).toBe(1)
  const [own] = (await drafts()).filter(id => !others.has(id))
  /** What the server has of it. */
  const lines = async () => {
    const draft = await asks<{ lines?: { line: { item: string } | null }[] }>(`/api/slips/${own}/draft?since=0`)
    return draft.lines?.flatMap(l => (l.line ? [l.line.item] : []))
  }
  await expect.poll(lines).toEqual([gloves.id])
  const backup = join(data, 'kept', 'b.sqlite')
  shelve('backup', backup)
  await scan(page, agar.codes[0]!)
  await expect.poll(lines).toEqual([gloves.id, agar.id])
  // Whoever signs in after it will be known no more, nor what they have begun.
  const late = await (await browser.newContext()).newPage()
  await signIn(late, stage, 'tova', 'Wet lab')
  await go(late, 3, 'What is handed out')
  await scan(late, gloves.codes[0]!)
  await expect.poll(async () => (await drafts()).length).toBe(others.size + 2)
  // Booked after it, and heard by the other one: the numbers of what happens come again.
  const it = await item(page, stage, 'GLV-S')
  await go(other, 3, 'What is handed out')
  await isFor(other, 'Seabird survey')
  await scan(other, it.codes[0]!)
  await other.keyboard.press('Control+Enter')
  await expect(other.getByText(/IS-\d+ is booked: 1 line/)).toBeVisible()
  await other.goto(`${stage.url}/items/${gloves.id}`)
  await expect(other.getByRole('heading', { name: 'Nitrile gloves, medium' })).toBeVisible()
  const there = await onHand(page, stage, 'GLV-M')

  await end()
  shelve('restore', backup)
  ;({ stage, child } = await start(data, true, { SHELVE_PORT: new URL(stage.url).port }))
  stages.push(stage)
  await expect(page.getByText(TOLD)).toBeVisible()
  await expect(other.getByText(TOLD)).toBeVisible()
  await late.getByLabel('You sign in as').fill('tova')
  await late.getByLabel('Password').fill('gannet holm')
  await late.keyboard.press('Enter')
  await expect(late.getByText(TOLD)).toBeVisible()
  await expect(late.getByLabel('Handed out: Nitrile gloves, medium')).toBeVisible()
  await expect.poll(async () => (await drafts()).length).toBe(others.size + 2)
  await expect.poll(lines).toEqual([gloves.id, agar.id])
  await page.getByRole('button', { name: 'I have read it' }).click()
  await expect(page.getByText(TOLD)).toHaveCount(0)

  // Another screen hears of the first thing that is booked, though it heard of later ones before.
  await expect(other.getByRole('heading', { name: 'Nitrile gloves, medium' })).toBeVisible()
  await page.getByRole('button', { name: 'Remove Agar plates, marine' }).click()
  await page.keyboard.press('Control+Enter')
  const booked = page.getByText(/IS-\d+ is booked: 1 line to Nitrate run/)
  await expect(booked).toBeVisible()
  expect(await onHand(page, stage, 'GLV-M')).toBe(there - 1)
  await expect(other.getByRole('main')).toContainText(/IS-\d+/.exec(await booked.innerText())![0])
  await page.reload()
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await expect(page.getByText(TOLD)).toHaveCount(0)
  await end()
  for (const s of stages) await s.mail.stop()
  rmSync(data, { recursive: true, force: true })
})
