// On six sizes nothing sticks out of the window, nothing lies over what is to be touched or read, and columns stand under their heads:
// with the names of the demonstration, with such as are as long as they may be, and in a window of 320 px, widely set.
import type { Page } from '@playwright/test'
import { followed, visit } from './at-rest.ts'
import { lengthened } from './long-names.ts'
import { besideTheirHead, overEachOther, unreachable } from './on-the-page.ts'
import { expect, item, signIn, type Stage, test, withServer } from './stage.ts'

const WALKS = [
  {
    how: 'by mouse, with names as long as they may be',
    touch: false,
    everywhere: true,
    long: true,
    spaced: false,
    sizes: [
      [1920, 1080],
      [1280, 800],
      [1024, 768],
    ],
  },
  {
    how: 'by touch',
    touch: true,
    everywhere: false,
    long: false,
    spaced: false,
    sizes: [
      [1024, 768],
      [768, 1024],
      [390, 844],
    ],
  },
  {
    how: 'by touch, with names as long as they may be',
    touch: true,
    everywhere: false,
    long: true,
    spaced: false,
    sizes: [
      [1280, 800],
      [1024, 768],
      [768, 1024],
      [390, 844],
    ],
  },
  {
    how: 'in the narrowest window, its text set as wide as somebody may want it (WCAG 2.2, 1.4.10 and 1.4.12)',
    touch: false,
    everywhere: false,
    long: false,
    spaced: true,
    sizes: [[320, 640]],
  },
] as const
/** What the walk looks for keeps its code. */
const SOUGHT = ['AGR-M', 'GLV-M', 'RIN-E', 'DINNER']

/** What a page needs to be shown: the ids of things that are there, and of what is begun for it. */
async function prepared(page: Page, demo: Stage) {
  const rows = async <T>(path: string): Promise<T[]> =>
    ((await (await page.request.get(`${demo.url}${path}`)).json()) as { rows: T[] }).rows
  const begun = async (path: string, body: object) => {
    const id = crypto.randomUUID()
    const r = await page.request.post(`${demo.url}${path}`, { data: { id, ...body } })
    expect(r.status(), await r.text()).toBe(201)
    return id
  }
  const one = <T>(of: T[]): T => {
    expect(of.length).toBeGreaterThan(0)
    return of[0]!
  }
  const slips = []
  for (const kind of ['receipt', 'issue', 'move', 'waste', 'count', 'make', 'correction'])
    slips.push(one(await rows<{ id: string }>(`/api/slips?state=booked&kind=${kind}&limit=1`)).id)
  const asked = ((await (await page.request.get(`${demo.url}/api/restock`)).json()) as { slips: { id: string }[] })
    .slips
  const planned = await rows<{ id: string; name: string }>('/api/jobs/planned')
  const [dinner, petrel] = [/^Fish dinner/, /^Petrel/].map(of => one(planned.filter(j => of.test(j.name))).id)
  const made = await item(page, demo, 'RIN-E')
  return {
    agar: (await item(page, demo, 'AGR-M')).id,
    slips,
    asked: asked.map(r => r.id),
    template: one((await rows<{ id: string; code: string }>('/api/templates')).filter(t => t.code === 'DINNER')).id,
    jobs: [dinner!, petrel!],
    transfer: one(await rows<{ id: string }>('/api/transfers')).id,
    make: await begun(`/api/jobs/${dinner}/make`, { typed: '4' }),
    pick: await begun('/api/picks', { jobs: [petrel] }),
    lot: one(await rows<{ id: string }>(`/api/items/${made.id}/lots`)).id,
    area: one((await rows<{ id: string; name: string }>('/api/places')).filter(p => p.name.startsWith('Wet lab'))).id,
  }
}
const views = (of: Awaited<ReturnType<typeof prepared>>) => [
  '/',
  '/count',
  '/count/groups',
  `/count/print?areas=${of.area}`,
  '/restock',
  ...of.asked.slice(0, 1).map(id => `/restock/${id}`),
  '/restock/short',
  '/stock',
  '/lots',
  '/lots?opened=true',
  `/lots/${of.lot}`,
  '/open',
  '/give-back',
  '/waste/expiring',
  `/items/${of.agar}`,
  '/ledger',
  ...of.slips.map(id => `/slips/${id}`),
  '/look-back',
  '/look-back/by',
  '/look-back/waste',
  '/look-back/counts',
  '/look-back/budgets',
  '/look-back/accounts',
  '/look-back/day',
  '/look-back/who',
  '/setup/items',
  '/setup/items/brought',
  `/setup/items/${of.agar}`,
  '/setup/categories',
  '/setup/places',
  '/setup/lists',
  '/setup/accounts',
  '/jobs',
  ...of.jobs.map(id => `/jobs/${id}`),
  `/make/${of.make}`,
  '/send',
  '/transfers',
  `/transfers/${of.transfer}`,
  '/picks',
  `/picks/${of.pick}`,
  '/templates',
  `/templates/${of.template}?wanted=26`,
  `/templates/${of.template}/change`,
  '/setup/people',
  '/setup/cards',
  '/setup/organisation',
  '/setup/changes',
  `/labels?item=${of.agar}`,
  '/me',
  '/take',
]

/**
 * Every view, of one place or of `everywhere`, each slip with two lines, and a sheet in its three forms, looked at on each size;
 * gives what is wrong with them.
 */
async function walked(
  page: Page,
  demo: Stage,
  sizes: readonly (readonly [number, number])[],
  everywhere: boolean,
): Promise<string[]> {
  const atRest = followed(page)
  await signIn(page, demo, 'tova')
  const here = page.getByLabel('Where I am working')
  const inTheLab = async () => {
    const lab = here.locator('option', { hasText: /^Wet lab/ })
    await here.selectOption(await lab.evaluate(o => (o as HTMLOptionElement).value))
  }
  if (!everywhere) await inTheLab()
  const faults: string[] = []
  const look = async (view: string) => {
    await page.evaluate(() => document.fonts.ready.then(() => true))
    // A button under the pointer has an edge that it has not otherwise.
    await page.mouse.move(0, 0)
    for (const [width, height] of sizes) {
      await page.setViewportSize({ width, height })
      await page.evaluate(() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done))))
      const found = [...(await unreachable(page)), ...(await besideTheirHead(page)), ...(await overEachOther(page))]
      faults.push(...found.map(f => `${view} at ${width}: ${f}`))
    }
  }
  for (const path of views(await prepared(page, demo))) {
    await visit(page, demo.url, path)
    await atRest()
    await look(path.replace(/[0-9a-f-]{36}/, '…'))
  }
  if (everywhere) await inTheLab()
  for (const path of ['/receive', '/issue', '/bring-back', '/move', '/waste']) {
    await page.goto(demo.url + path)
    const box = page.locator('[data-add] input')
    await expect(box).toBeVisible()
    for (const code of ['GLV-M', 'AGR-M']) {
      await box.fill(code)
      await page.locator('[role="option"]').first().click()
    }
    await expect(page.locator('[data-quantity]')).toHaveCount(2)
    await atRest()
    await look(path)
  }
  await page.goto(`${demo.url}/issue`)
  await page.getByRole('button', { name: 'Each line its own' }).click()
  await expect(page.getByLabel(/^For: /)).toHaveCount(2)
  await look('a list')
  await page.goto(`${demo.url}/count`)
  await page.getByRole('button', { name: 'Count it here' }).first().click()
  const sure = page.getByRole('button', { name: 'Count all the same' })
  await expect(page.locator('.sheet').or(sure)).toBeVisible()
  if (await sure.isVisible()) await sure.click()
  for (const form of ['Line by line', 'Grid', 'Review']) {
    await page.getByRole('button', { name: form, exact: true }).click()
    await atRest()
    await look(`a sheet, ${form}`)
  }
  return faults
}

test('whatever Tab leads to is seen: over a long slip and a long page, on a large screen and on one that shows everything at twice its size', async ({
  browser,
}) => {
  await withServer(true, async demo => {
    const page = await (await browser.newContext()).newPage()
    const atRest = followed(page)
    await signIn(page, demo, 'tova', 'Wet lab')
    const hidden: string[] = []
    for (const path of ['/issue', '/setup/lists', '/stock', '/waste/expiring'])
      for (const [width, height] of [
        [1280, 800],
        [1024, 768],
        [640, 400],
      ] as const) {
        await page.setViewportSize({ width, height })
        await page.goto(demo.url + path)
        await atRest()
        if (path === '/issue') {
          const box = page.locator('[data-add] input')
          for (const code of ['GLV-M', 'GLV-L', 'AGR-M', 'AGR-N', 'PIP-1K', 'MSK-F', 'COV-S', 'BAG-A']) {
            await box.fill(code)
            await page.locator('[role="option"]').first().click()
          }
          await expect(page.locator('[data-quantity]')).toHaveCount(8)
          await page.locator('[data-quantity]').first().focus()
        }
        if (path === '/waste/expiring') await page.getByRole('button', { name: /^Choose all/ }).click()
        for (let n = 0; n < 90; n++) {
          await page.keyboard.press(n < 60 ? 'Tab' : 'Shift+Tab')
          const said = await page.evaluate(() => {
            const el = document.activeElement!
            const r = el.getBoundingClientRect()
            const over = document.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2)
            const same = !over || el.contains(over) || over.contains(el) || over.closest('label')?.contains(el)
            const out = r.top < -1 || r.bottom > innerHeight + 1
            const name = (el.getAttribute('aria-label') ?? el.textContent ?? '').trim().slice(0, 40)
            return el === document.body || (same && !out) ? '' : `“${name}”${out ? '' : ` under ${over?.className}`}`
          })
          if (said) hidden.push(`${path} at ${width} × ${height}: ${said}`)
        }
      }
    expect([...new Set(hidden)]).toEqual([])
    await page.context().close()
  })
})

/** Lines, letters and words as far apart as a reader may set them. */
const wide = () =>
  document.addEventListener('DOMContentLoaded', () => {
    const sheet = new CSSStyleSheet()
    sheet.replaceSync(
      '* { line-height: 1.5 !important; letter-spacing: 0.12em !important; word-spacing: 0.16em !important } p { margin-bottom: 2em !important }',
    )
    document.adoptedStyleSheets.push(sheet)
  })
for (const { how, touch, everywhere, long, spaced, sizes } of WALKS)
  test(`${how}, at ${sizes.map(([w, h]) => `${w} × ${h}`).join(', ')}: all can be reached`, async ({ browser }) => {
    await withServer(
      true,
      async demo => {
        const context = await browser.newContext({ hasTouch: touch })
        if (spaced) await context.addInitScript(wide)
        expect(await walked(await context.newPage(), demo, sizes, everywhere)).toEqual([])
        await context.close()
      },
      long ? data => lengthened(data, SOUGHT) : undefined,
    )
  })
