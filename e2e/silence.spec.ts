import { type ChildProcess } from 'node:child_process'
import { cpSync, mkdtempSync, rmSync } from 'node:fs'
import { connect, createServer, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, go, isFor, item, MADE, onHand, scan, signIn, start, test } from './stage.ts'

/** A way to the server that can fall silent, as where a tablet leaves the reach of its network: what is sent is lost, and nothing says so. */
async function way(to: number): Promise<{ port: number; fallSilent(silent: boolean): void; close(): void }> {
  let silent = false
  const open = new Set<Socket>()
  const way = createServer(near => {
    const far = connect(to, '127.0.0.1')
    for (const [from, into] of [
      [near, far],
      [far, near],
    ] as const) {
      open.add(from)
      // A connection that was open when it fell silent is lost for good, as where an address was given away meanwhile.
      let lost = silent
      from.on('data', d => {
        lost ||= silent
        if (!lost) into.write(d)
      })
      from.on('close', () => {
        open.delete(from)
        if (!lost && !silent) into.destroy()
      })
      from.on('error', () => undefined)
    }
  })
  await new Promise<void>(ok => way.listen(0, '127.0.0.1', ok))
  return {
    port: (way.address() as { port: number }).port,
    fallSilent: s => void (silent = s),
    close: () => {
      for (const s of open) s.destroy()
      way.close()
    },
  }
}

test('whether the server is there is said though nobody asks it anything', async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), 'shelve-browser-'))
  cpSync(MADE, data, { recursive: true })
  const ended = (child: ChildProcess, how: 'SIGTERM' | 'SIGKILL' = 'SIGTERM') => {
    const gone = new Promise(done => child.once('exit', done))
    child.kill(how)
    return gone
  }
  const first = await start(data, true)
  await signIn(page, first.stage, 'ines', 'Wet lab')
  await page.goto(`${first.stage.url}/items`)
  // Two windows have one stream: the second hears of it by the first.
  const beside = await page.context().newPage()
  await beside.goto(`${first.stage.url}/stock`)
  const both = async (words: string) => {
    for (const window of [page, beside])
      await expect(window.getByRole('status').filter({ hasText: /Live|Server away/ })).toHaveText(words)
  }
  await both('Live')
  await ended(first.child)
  await both('Server away')
  const second = await start(data, true, { SHELVE_PORT: new URL(first.stage.url).port })
  await both('Live')
  // Gone from one moment to the next, after the second window has heard of it and the one that reads for both has not.
  await beside.reload()
  await both('Live')
  await ended(second.child, 'SIGKILL')
  await both('Server away')
  await first.stage.mail.stop()
  await second.stage.mail.stop()
  rmSync(data, { recursive: true, force: true })
})

test('a network that falls silent: it is said, nothing waits for ever, and what happened meanwhile is seen', async ({
  page,
  browser,
  demo,
}) => {
  const between = await way(Number(new URL(demo.url).port))
  const there = { ...demo, url: `http://localhost:${between.port}` }
  await page.clock.install()
  await signIn(page, there, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  const before = await onHand(page, demo, 'GLV-M')
  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  await scan(page, gloves.codes[0]!)
  await expect(page.getByText('saved')).toBeVisible()
  const drafts = page.getByRole('link', { name: /^drafts · / })
  const { rows } = (await (await page.request.get(`${demo.url}/api/slips?state=draft&limit=200`)).json()) as {
    rows: unknown[]
  }
  await expect(drafts).toHaveText(`drafts · ${rows.length}`)
  between.fallSilent(true)
  await page.keyboard.press('Control+Enter')
  // Its time goes by.
  await expect(async () => {
    await page.clock.fastForward(20_000)
    await expect(page.getByText('Server away')).toBeVisible({ timeout: 200 })
  }).toPass()
  await expect(
    page.getByText('The server cannot be reached. What you typed is kept on this device.').first(),
  ).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before)
  // Meanwhile somebody else begins a slip.
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'ruben', 'Wet lab')
  await go(other, 3, 'What is handed out')
  await scan(other, gloves.codes[0]!)
  await expect(other.getByText('saved')).toBeVisible()
  await other.context().close()
  between.fallSilent(false)
  await expect(async () => {
    await page.clock.fastForward(20_000)
    await expect(page.getByText('Live', { exact: true })).toBeVisible({ timeout: 200 })
  }).toPass()
  await expect(drafts).toHaveText(`drafts · ${rows.length + 1}`)
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before - 1)
  between.close()
})

test('where something on the way holds back the stream alone, whoever asks is answered, and nobody is told that the server is away', async ({
  page,
  demo,
}) => {
  // What is sent down the stream never comes.
  await page.route('**/api/events*', () => new Promise(() => undefined))
  await page.clock.install()
  await signIn(page, demo, 'ines', 'Wet lab')
  const said: (string | null)[] = []
  for (let n = 0; n < 5; n++) {
    const asked = page.waitForResponse('**/api/session')
    await page.clock.fastForward(21_000)
    await (await asked).finished()
    said.push(
      await page
        .getByRole('status')
        .filter({ hasText: /Live|Server away/ })
        .textContent(),
    )
  }
  expect(new Set(said)).toEqual(new Set(['Live']))
})

test('a session that is over is over on the screen too, though nobody does anything', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await page.goto(`${demo.url}/stock`)
  await expect(page.getByText('Agar plates, marine')).toBeVisible()
  // As where a manager ends it, or its time is over.
  await page.request.delete(`${demo.url}/api/session`)
  await expect(page.getByLabel('You sign in as')).toBeVisible()
  await expect(page.getByText('Agar plates, marine')).toHaveCount(0)
})
