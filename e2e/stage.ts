import { fork, type ChildProcess } from 'node:child_process'
import { cpSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { MailServer } from '@shelve/standins'
import { type Browser, type BrowserContext, test as base, expect, type Locator, type Page } from '@playwright/test'

const root = fileURLToPath(new URL('..', import.meta.url))
/** The day on which all browser tests take place. */
export const NOW = Date.UTC(2026, 10, 25, 10)
export const MADE = join(root, '.results', 'demonstration')

/** `mail`: the mail server that this one hands its letters to. */
export interface Stage {
  readonly url: string
  readonly data: string
  readonly mail: MailServer
}
export async function start(
  data: string,
  demonstration: boolean,
  more: NodeJS.ProcessEnv = {},
): Promise<{ stage: Stage; child: ChildProcess; plainPort: number | null }> {
  const mail = new MailServer()
  const { port: mailPort } = await mail.start()
  const child = fork(join(root, 'server/dist/main.mjs'), [], {
    cwd: root,
    execArgv: [],
    silent: true,
    env: {
      ...process.env,
      SHELVE_PORT: '0',
      SHELVE_DATA: data,
      SHELVE_WEB: join(root, 'web/dist'),
      SHELVE_DEMONSTRATION: demonstration ? 'yes' : 'no',
      SHELVE_NOW: String(NOW),
      SHELVE_MAIL: `smtp://127.0.0.1:${mailPort}`,
      SHELVE_MAIL_FROM: 'stores@gannet-holm.example',
      SHELVE_LOG: 'error',
      SHELVE_SIGN_INS: '1000',
      // What a backup is, is read in the server's tests: none is taken and verified beside each of these.
      SHELVE_BACKUP_HOURS: '0',
      ...more,
    },
  })
  child.stdout?.on('data', (d: Buffer) => {
    if (d.includes('"level"')) process.stdout.write(d)
  })
  child.stderr?.pipe(process.stderr)
  const { port, plainPort } = await new Promise<{ port: number; plainPort: number | null }>((ok, no) => {
    child.once('message', m => ok(m as { port: number; plainPort: number | null }))
    child.once('exit', c => no(new Error(`the server ended with ${c}`)))
  })
  return { stage: { url: `http://localhost:${port}`, data, mail }, child, plainPort }
}

/** What is said of an answer that refuses, of a server that cannot be reached, and of what was on its way when the page was left. */
const EXPECTED = /Failed to (load resource|fetch)|Unable to preload|The server cannot be reached|AbortError/
/** No screen asks what the contract does not know. */
const NEVER = /status of 400/
/** What a page said that is no fault by itself. */
const heard = (description: string) => ({ type: 'heard, as may be', description })
/** What stands on each page where a test has failed: whoever reads of it has only the words. */
const whereTheyStand = (browser: Browser) =>
  Promise.all(
    browser
      .contexts()
      .flatMap(c => c.pages())
      .map(async page => {
        const text = await page
          .locator('body')
          .innerText({ timeout: 10_000 })
          .catch((e: Error) => e.message)
        return { type: 'a page', description: `${page.url()}\n${text.replaceAll(/\s*\n\s*/g, '\n').slice(0, 1200)}` }
      }),
  )
/** A server of its own for each test: `demo` with the demonstration, `empty` with nothing. No page may run into a fault unnoticed. */
export const test = base.extend<{ demo: Stage; empty: Stage; faultless: undefined }>({
  faultless: [
    async ({ browser, context }, use, info) => {
      const faults: string[] = []
      const expected: string[] = []
      const said = (text: string) => {
        ;(NEVER.test(text) || !EXPECTED.test(text) ? faults : expected).push(text)
      }
      const hear = async (of: BrowserContext) => {
        // What the page's own policy forbids is tried by nothing in it, also where the try is caught.
        await of.addInitScript(() =>
          addEventListener('securitypolicyviolation', e =>
            console.error(`Against the policy of the page: ${e.violatedDirective}, ${e.blockedURI}`),
          ),
        )
        of.on('weberror', e => said(e.error().stack || e.error().message))
        of.on('console', m => {
          if (m.type() === 'error') said(m.text())
        })
      }
      await hear(context)
      const { newContext } = browser
      browser.newContext = async options => {
        const another = await newContext.call(browser, options)
        await hear(another)
        return another
      }
      await use(undefined)
      browser.newContext = newContext
      if (info.errors.length)
        info.annotations.push(...(await whereTheyStand(browser)), ...expected.slice(-5).map(heard))
      expect(faults, 'what pages ran into').toEqual([])
    },
    { auto: true },
  ],
  demo: async ({}, use) => {
    await withServer(true, use)
  },

  empty: async ({}, use) => {
    await withServer(false, use)
  },
})
/** A server of its own, with what is done to its data before it starts. */
export async function withServer(
  demonstration: boolean,
  use: (s: Stage) => Promise<void>,
  before: (data: string) => void = () => undefined,
): Promise<void> {
  const data = mkdtempSync(join(tmpdir(), 'shelve-browser-'))
  if (demonstration) cpSync(MADE, data, { recursive: true })
  before(data)
  const { stage, child } = await start(data, demonstration)
  await use(stage)
  const ended = new Promise(done => child.once('exit', done))
  child.kill('SIGTERM')
  await ended
  await stage.mail.stop()
  rmSync(data, { recursive: true, force: true })
}

export async function signIn(page: Page, stage: Stage, who = 'tova', place?: string): Promise<void> {
  await page.goto(`${stage.url}/sign-in`)
  await page.getByLabel('You sign in as').fill(who)
  await page.getByLabel('Password').fill('gannet holm')
  await page.keyboard.press('Enter')
  await page.waitForURL(u => u.pathname === '/')
  if (place) await page.getByLabel('Where I am working').selectOption({ label: place })
}

/** From its first word on a page's requests can be held: one that begins to be listened to later may still let one go by. */
export const listenedTo = (page: Page): Promise<unknown> => page.route('**/nothing-of-this-name', r => r.continue())

/** A burst as a wedge scanner sends it: keys `pace` ms apart by their own time stamps, Enter at the end; `~` in it is a pause of 400 ms, `^` one of two seconds. */
export async function scan(page: Page, code: string, pace = 8, end: 'Enter' | '' = 'Enter'): Promise<void> {
  const cdp = await page.context().newCDPSession(page)
  let timestamp = Date.now() / 1000
  const sent: Promise<unknown>[] = []
  const press = (key: { type: 'keyDown' | 'rawKeyDown'; key: string; [more: string]: unknown }) => {
    timestamp += pace / 1000
    sent.push(
      cdp.send('Input.dispatchKeyEvent', { ...key, timestamp }),
      cdp.send('Input.dispatchKeyEvent', { type: 'keyUp', key: key.key, timestamp: timestamp + 0.002 }),
    )
  }
  for (const c of code)
    if (c === '~') timestamp += 0.4
    else if (c === '^') timestamp += 2
    else if (c === '\x1d')
      press({ type: 'rawKeyDown', key: c, code: 'BracketRight', windowsVirtualKeyCode: 221, modifiers: 2 })
    else press({ type: 'keyDown', key: c, text: c })
  if (end) press({ type: 'keyDown', key: 'Enter', code: 'Enter', windowsVirtualKeyCode: 13, text: '\r' })
  await Promise.all(sent)
  await cdp.detach()
  // A scanner needs a breath between two bursts.
  await page.waitForTimeout(260)
}
/** Goes to a work by its key, and waits until it is there. */
export async function go(page: Page, n: number, heading: string | RegExp): Promise<void> {
  await page.keyboard.press(`Alt+${n}`)
  await expect(page.getByRole('heading', { name: heading, level: 1 })).toBeVisible()
}
/** The button that counts a whole area here: what is due comes before it, perhaps a group in it. */
export const countHere = (page: Page, area: string): Locator =>
  page
    .getByRole('row')
    .filter({ has: page.getByLabel(`Print a sheet of ${area}`, { exact: true }) })
    .getByRole('button', { name: 'Count it here' })
/** As a person types: slowly enough not to be taken for a scanner. */
export async function type(page: Page, text: string): Promise<void> {
  await page.keyboard.type(text, { delay: 55 })
  // Nobody lays the keyboard down and pulls the trigger within a moment.
  await page.waitForTimeout(200)
}
export const item = async (
  page: Page,
  stage: Stage,
  code: string,
): Promise<{ id: string; name: string; packs: { codes: string[] }[]; codes: string[] }> => {
  const r = await page.request.get(`${stage.url}/api/items?q=${encodeURIComponent(code)}`)
  return (
    (await r.json()) as {
      rows: { id: string; name: string; code: string; packs: { codes: string[] }[]; codes: string[] }[]
    }
  ).rows.find(x => x.code === code)!
}
/** The id of a place, by its name. */
export async function placeOf(page: Page, stage: Stage, name: string): Promise<string> {
  const { rows } = (await (await page.request.get(`${stage.url}/api/places`)).json()) as {
    rows: { id: string; name: string }[]
  }
  return rows.find(p => p.name === name)!.id
}
/** What lies of an item in a place. */
export const onHand = async (page: Page, stage: Stage, code: string, place = 'Wet lab'): Promise<number> => {
  const it = await item(page, stage, code)
  const { places } = (await (await page.request.get(`${stage.url}/api/items/${it.id}/stock`)).json()) as {
    places: { name: string; levels: { onHand: string } }[]
  }
  return Number(places.find(p => p.name === place)?.levels.onHand ?? '0')
}
export const verified = async (page: Page, stage: Stage): Promise<unknown[]> =>
  ((await (await page.request.post(`${stage.url}/api/verification`)).json()) as { faults: unknown[] }).faults
export { expect }
/** Says whom an issue is for, by typing. */
export async function isFor(page: Page, name: string, label = /^For/): Promise<void> {
  await page.getByLabel(label).fill(name)
  await expect(page.getByRole('option', { name }).first()).toBeVisible()
  await page.getByLabel(label).press('Enter')
  await expect(page.getByLabel(label)).toHaveValue(name)
}
/** Holds back what a page asks there, and nothing else that was held before; gives what lets it through. */
export async function heldBack(page: Page, ...paths: readonly string[]): Promise<() => void> {
  let come!: () => void
  const asked = new Promise<void>(ok => (come = ok))
  await page.unrouteAll()
  for (const path of paths)
    await page.route(path, async r => {
      await asked
      await r.continue()
    })
  return come
}
