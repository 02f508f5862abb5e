// Renews docs/screenshots from a fresh demonstration: npm run shots.
import { fork } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromiumFile, withChromium } from './chromium.mjs'
import { packages, root, run, server, tsx, web } from './setup.mjs'

packages()
withChromium()
web()
const { chromium } = await import('@playwright/test')
const NOW = Date.UTC(2026, 10, 25, 10)
const out = join(root, 'docs/screenshots')
mkdirSync(out, { recursive: true })

/** A server of its own on a data directory; gives its address and how to stop it. */
async function serve(data) {
  const child = fork(server(), [], {
    cwd: root,
    silent: true,
    env: {
      ...process.env,
      SHELVE_PORT: '0',
      SHELVE_DATA: data,
      SHELVE_WEB: join(root, 'web/dist'),
      SHELVE_DEMONSTRATION: 'yes',
      SHELVE_NOW: String(NOW),
      SHELVE_LOG: 'error',
    },
  })
  const port = await new Promise((ok, no) => {
    child.once('message', m => ok(m.port))
    child.once('exit', c => no(new Error(`the server ended with ${c}`)))
  })
  return {
    url: `http://localhost:${port}`,
    stop: () =>
      new Promise(done => {
        child.once('exit', done)
        child.kill()
      }),
  }
}
const made = mkdtempSync(join(tmpdir(), 'shelve-shots-'))
if (run(process.execPath, [...tsx, 'demo/src/make.ts', join(made, 'demo'), String(NOW)]).status !== 0) process.exit(1)
const demo = await serve(join(made, 'demo'))
// As on most desks: a bar to scroll by stands beside the page, in the room that is kept for it.
const browser = await chromium.launch({ executablePath: chromiumFile(), ignoreDefaultArgs: ['--hide-scrollbars'] })

async function open({ dark = false, tablet = false, who = 'tova', place = 'Wet lab' } = {}) {
  const context = await browser.newContext({
    viewport: tablet ? { width: 820, height: 1180 } : { width: 1280, height: 800 },
    hasTouch: tablet,
    colorScheme: dark ? 'dark' : 'light',
    timezoneId: 'Europe/Dublin',
    locale: 'en-IE',
  })
  const page = await context.newPage()
  await page.goto(`${demo.url}/sign-in`)
  await page.getByLabel('You sign in as').fill(who)
  await page.getByLabel('Password').fill('gannet holm')
  await page.keyboard.press('Enter')
  await page.waitForURL(u => u.pathname === '/')
  if (place) await page.getByLabel('Where I am working').selectOption({ label: place })
  return page
}
const slow = (page, text) => page.keyboard.type(text, { delay: 60 })
async function add(page, words, quantity) {
  await page.locator('[data-add] input').pressSequentially(words, { delay: 60 })
  await page.waitForTimeout(250)
  await page.keyboard.press('Enter')
  await page.waitForTimeout(150)
  await slow(page, quantity)
  await page.waitForTimeout(250)
}
async function shot(name, page) {
  // A view that is still coming, or adding up, is no picture of it; looked at once more when it has come to rest.
  await page.locator('h1, h2').first().waitFor()
  const addedUp = () =>
    page.waitForFunction(
      () => ![...document.querySelectorAll('[role="status"]')].some(e => e.textContent.trim().endsWith('…')),
      undefined,
      { timeout: 120_000 },
    )
  await addedUp()
  await page.waitForTimeout(700)
  await addedUp()
  await page.screenshot({ path: join(out, `${name}.png`) })
  await page.context().close()
  console.log(name)
}
const visit = async (name, path, options) => {
  const page = await open(options)
  await page.goto(demo.url + path)
  await shot(name, page)
}

await visit('today', '/', { who: 'ines', place: null })
await visit('stock', '/stock')
await visit('expiring', '/waste/expiring?days=30', { who: 'ruben', place: null })
await visit('look-back', '/look-back', { place: null })
{
  const page = await open({ who: 'ines' })
  await page.goto(`${demo.url}/receive`)
  await page.getByLabel('Supplier').pressSequentially('Ostrelith', { delay: 60 })
  await page.getByRole('button', { name: 'Add freight' }).click()
  await page.getByLabel('Freight, amount').fill('18')
  await add(page, 'nitrile gloves, m', '2')
  await page
    .getByLabel(/^Price of one/)
    .last()
    .fill('80.50')
  await add(page, 'sample vial 20', '3')
  await page
    .getByLabel(/^Price of one/)
    .last()
    .fill('31.50')
  await shot('receive', page)
}
{
  const page = await open({ who: 'ines', dark: true })
  await page.goto(`${demo.url}/issue`)
  await page.getByLabel(/^For/).fill('Nitrate run')
  await page.getByLabel(/^For/).press('Enter')
  await page.getByLabel('Taken by').fill('Mirja')
  await add(page, 'nitrile gloves, m', '2')
  await add(page, 'buffer ph 7', '250')
  await shot('issue-dark', page)
}
{
  const page = await open({ who: 'ines', tablet: true, place: 'Sick bay' })
  await page.goto(`${demo.url}/count`)
  await page.getByRole('button', { name: 'Count it here' }).first().click()
  await page.waitForTimeout(600)
  for (const figure of ['6', '1', '24']) {
    await slow(page, figure)
    await page.keyboard.press('Enter')
    await page.waitForTimeout(250)
  }
  await slow(page, '12')
  await shot('count-tablet', page)
}
{
  const page = await open({ who: 'tova', place: 'Boat shed' })
  await page.goto(`${demo.url}/count`)
  await page.getByLabel('with figures').check()
  await page.getByRole('button', { name: 'Count it here' }).first().click()
  // A slip was left lying there: the count says so first.
  await page.getByRole('button', { name: 'Count all the same' }).click()
  await page.getByRole('button', { name: 'Grid' }).click()
  const fields = page.locator('[data-row]')
  for (const [row, figure] of [
    [0, '2'],
    [1, '5'],
    [2, '3'],
    [3, '0'],
  ]) {
    await fields.nth(row).click()
    await slow(page, figure)
  }
  for (const row of [4, 5, 6]) await page.getByRole('button', { name: 'As expected' }).nth(row).click()
  await page.getByRole('button', { name: 'Review', exact: true }).click()
  // What booking would do is on its way: the picture is of the answer.
  await page.getByText(/^Difference$/).waitFor()
  await page.locator('td .chip').first().waitFor()
  await shot('review', page)
}
const rows = await (await fetchAs(`${demo.url}/api/items?q=ETH-96`)).json()
const item = rows.rows.find(r => r.code === 'ETH-96').id
await visit('item', `/items/${item}`)
{
  const page = await open()
  await page.goto(`${demo.url}/items/${item}`)
  await page.getByRole('button', { name: /^Cost of one/ }).click()
  await shot('working', page)
}
await visit('restock-dark', '/restock', { dark: true, place: null })
await visit('ledger', '/ledger', { place: null })
const corrections = (await (await fetchAs(`${demo.url}/api/slips?kind=correction&limit=50`)).json()).rows
const targets = await Promise.all(
  corrections.map(async c => (await (await fetchAs(`${demo.url}/api/slips/${c.id}`)).json()).corrects),
)
await visit('slip', `/slips/${(targets.find(t => t.number.startsWith('IS')) ?? targets[0]).id}`)
{
  const { rows: jobs } = await (await fetchAs(`${demo.url}/api/jobs/planned`)).json()
  await visit('job', `/jobs/${jobs.find(j => j.name === 'Fish dinner').id}`, { place: 'Galley' })
}
{
  // The stock of the dinner is made; beside it what lies on the boat's list.
  const page = await open({ who: 'ruben', place: 'Galley' })
  const { rows: jobs } = await (await fetchAs(`${demo.url}/api/jobs/planned`)).json()
  await page.goto(`${demo.url}/jobs/${jobs.find(j => j.name === 'Fish dinner').id}`)
  await page.getByRole('button', { name: 'Make Stock, fish now' }).click()
  await page.getByLabel('Made: Stock, fish').waitFor()
  await page.locator('.shelf li').first().waitFor()
  await shot('make', page)
}
{
  const page = await open({ who: 'ruben', tablet: true, place: 'Boat shed' })
  await page.goto(`${demo.url}/picks`)
  await page.getByLabel(/Petrel, engine service/).check()
  await page.getByRole('button', { name: 'Pick', exact: true }).click()
  await page
    .getByRole('button', { name: /^Take / })
    .first()
    .click()
  await shot('pick-tablet', page)
}
{
  const { rows: templates } = await (await fetchAs(`${demo.url}/api/templates`)).json()
  await visit('template', `/templates/${templates.find(t => t.code === 'DINNER').id}?wanted=26`, {
    place: 'Galley',
  })
}
{
  const page = await open({ place: null })
  const { rows: areas } = await (await fetchAs(`${demo.url}/api/count-areas`)).json()
  await page.goto(`${demo.url}/count/print?figures=yes&areas=${areas.find(a => a.name === 'Galley').id}`)
  await page.getByRole('img', { name: /^Page 1/ }).waitFor()
  await page.waitForTimeout(2500)
  await shot('sheet', page)
}
{
  const { rows: items } = await (await fetchAs(`${demo.url}/api/items?q=RIN-E`)).json()
  const { rows: lots } = await (await fetchAs(`${demo.url}/api/items/${items[0].id}/lots`)).json()
  await visit('lot', `/lots/${lots[0].id}`)
}
await browser.close()
await demo.stop()
rmSync(made, { recursive: true, force: true })

/** A request with a manager's session, which is begun once. */
async function fetchAs(url) {
  const signed = await (fetchAs.session ??= fetch(`${demo.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ signIn: 'tova', password: 'gannet holm' }),
  }))
  return fetch(url, { headers: { cookie: signed.headers.get('set-cookie').split(';')[0] } })
}
