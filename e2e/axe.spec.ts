import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { flashed, followed, moved, slowly, visit } from './at-rest.ts'
import { expect, item, signIn, test, type Stage } from './stage.ts'

/** WCAG 2.2 A and AA by axe, on every view: once light on a desk, once dark on a tablet. */
async function views(page: Page, demo: Stage): Promise<string[]> {
  const gloves = await item(page, demo, 'GLV-M')
  const slips: string[] = []
  for (const kind of ['receipt', 'count', 'issue']) {
    const { rows } = (await (await page.request.get(`${demo.url}/api/slips?limit=1&kind=${kind}`)).json()) as {
      rows: { id: string }[]
    }
    slips.push(rows[0]!.id)
  }
  const { rows: areas } = (await (await page.request.get(`${demo.url}/api/count-areas`)).json()) as {
    rows: { id: string; name: string }[]
  }
  const [area, shed] = ['Seal hide', 'Launch Petrel'].map(name => areas.find(a => a.name === name)!)
  const milk = await item(page, demo, 'MIL-W')
  const lot = (
    (await (await page.request.get(`${demo.url}/api/items/${milk.id}/lots`)).json()) as { rows: { id: string }[] }
  ).rows[0]!
  const { rows: templates } = (await (await page.request.get(`${demo.url}/api/templates`)).json()) as {
    rows: { id: string; code: string }[]
  }
  const { rows: jobs } = (await (await page.request.get(`${demo.url}/api/jobs/planned`)).json()) as {
    rows: { id: string; name: string }[]
  }
  // What is made and what is picked, as slips that were begun.
  const { rows: transfers } = (await (await page.request.get(`${demo.url}/api/transfers`)).json()) as {
    rows: { id: string }[]
  }
  const begun = async (path: string, body: object) => {
    const id = crypto.randomUUID()
    const r = await page.request.post(`${demo.url}${path}`, { data: { id, ...body } })
    expect(r.status(), await r.text()).toBe(201)
    return id
  }
  const make = await begun(`/api/jobs/${jobs.find(j => j.name === 'Fish stock')!.id}/make`, {})
  const issue = await begun(`/api/jobs/${jobs.find(j => j.name === 'Fish dinner')!.id}/issue`, {})
  const asked = ((await (await page.request.get(`${demo.url}/api/restock`)).json()) as { slips: { id: string }[] })
    .slips
  const pick = await begun('/api/picks', { jobs: [jobs.find(j => j.name.startsWith('Petrel'))!.id] })
  const ethanol = await item(page, demo, 'RIN-E')
  const made = (
    (await (await page.request.get(`${demo.url}/api/items/${ethanol.id}/lots`)).json()) as { rows: { id: string }[] }
  ).rows[0]!
  const job = (name: string) => jobs.find(j => j.name.startsWith(name))!.id
  const template = (code: string) => templates.find(t => t.code === code)!.id
  return [
    '/',
    '/waste/expiring',
    '/me',
    '/restock/short',
    '/look-back',
    '/look-back/waste',
    '/look-back/counts',
    '/look-back/budgets',
    '/look-back/by',
    '/look-back/day',
    '/look-back/who',
    '/look-back/close',
    '/stock',
    '/lots',
    '/receive',
    '/issue',
    '/take',
    '/bring-back',
    '/move',
    '/open',
    '/give-back',
    '/lots?opened=true',
    '/waste',
    '/count',
    '/count/groups',
    '/restock',
    '/ledger',
    `/items/${gloves.id}`,
    ...slips.map(id => `/slips/${id}`),
    '/setup/items',
    '/setup/items/new',
    '/setup/items/brought',
    `/setup/items/${gloves.id}`,
    '/setup/categories',
    '/setup/places',
    '/setup/lists',
    '/jobs',
    '/jobs?over=yes',
    `/jobs/${job('Fish dinner')}`,
    `/jobs/${job('Petrel')}`,
    `/make/${make}`,
    `/issue/${issue}`,
    `/restock/${asked[0]!.id}`,
    '/send',
    '/transfers',
    `/transfers/${transfers[0]!.id}`,
    '/picks',
    `/picks/${pick}`,
    '/templates',
    `/templates/${template('DINNER')}?wanted=26`,
    `/templates/${template('SAUCE')}/change`,
    '/setup/cards',
    '/setup/people',
    '/setup/accounts',
    '/setup/tablets',
    '/look-back/accounts',
    `/labels?item=${gloves.id}`,
    `/count/print?areas=${area!.id},${shed!.id}`,
    '/labels',
    `/lots/${lot.id}`,
    `/lots/${made.id}`,
    '/setup/organisation',
    '/setup/changes',
    '/begin',
  ]
}
/** Each view reads it anew: without comments that is half as much. */
const axeSource = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')
/** What axe says of a page: all of it in the first theme; in the other one only what the other colours can change. */
async function check(page: Page, where: string, all: boolean): Promise<void> {
  // In one piece: no page of ours holds a frame of somebody else's.
  const axe = new AxeBuilder({ page, axeSource }).setLegacyMode().options({ resultTypes: ['violations'] })
  const { violations } = await (
    all
      ? axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
      : axe.withRules(['color-contrast', 'link-in-text-block'])
  ).analyze()
  expect(
    violations.map(
      v =>
        `${where}: ${v.id}: ${v.nodes
          .map(n => n.target.join(' '))
          .slice(0, 3)
          .join(' | ')}`,
    ),
  ).toEqual([])
}

/** What a finger would miss: everything that acts and is less than 48 px high where it is hit; links in the middle of a sentence excepted. */
const small = (page: Page) =>
  page.evaluate(() =>
    [
      ...document.querySelectorAll(
        'main a[href], main button, main input, main select, main textarea, header a, header button, header input, nav a, nav button',
      ),
    ]
      .filter(e => {
        const own = e.getBoundingClientRect()
        const label = e.closest('label')
        if (
          own.width === 0 ||
          getComputedStyle(e).visibility === 'hidden' ||
          (e.tagName === 'A' && e.closest('p')) ||
          Math.max(own.height, label?.getBoundingClientRect().height ?? 0) >= 47.5
        )
          return false
        e.scrollIntoView({ block: 'center' })
        const r = e.getClientRects()[0]!
        return ![-22.5, 22.5].every(d => {
          const hit = document.elementFromPoint(r.x + r.width / 2, r.y + r.height / 2 + d)
          return (
            hit &&
            (e.contains(hit) ||
              label?.contains(hit) ||
              hit.closest('[role=columnheader], .th, nav, header') ||
              !e.closest('main')?.contains(hit))
          )
        })
      })
      .map(
        e =>
          `${e.tagName} “${(e.getAttribute('aria-label') ?? e.textContent ?? '').trim().slice(0, 40)}” ${Math.round(e.getBoundingClientRect().height)}`,
      ),
  )

for (const [theme, device, size] of [
  ['light', 'desk', { width: 1280, height: 800 }],
  ['dark', 'tablet', { width: 800, height: 1280 }],
] as const) {
  test(`every view is accessible: ${theme}, ${device}`, async ({ browser, demo }) => {
    const page = await (
      await browser.newContext({ colorScheme: theme, viewport: size, hasTouch: device === 'tablet' })
    ).newPage()
    await page.goto(`${demo.url}/sign-in`)
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
    await check(page, 'sign-in', theme === 'light')
    await signIn(page, demo, 'tova', 'Galley')
    const atRest = followed(page)
    await slowly(page, device === 'desk' ? 50 : 25, device === 'desk' ? 1 : 2)
    for (const path of await views(page, demo)) {
      // Each is loaded by itself once; the second time they are gone through one after the other.
      await (device === 'desk' ? page.goto(demo.url + path) : visit(page, demo.url, path))
      await atRest()
      expect(await moved(page), `${path}: what is to be touched stays where it came up`).toEqual([])
      // Of one that is gone to within Shelve the one before is seen for a moment.
      if (device === 'desk')
        expect(await flashed(page), `${path}: nothing is said to be missing before it is known`).toEqual([])
      await check(page, path, theme === 'light')
      const wide = await page.evaluate(
        () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
      )
      expect(wide, `${path} is not wider than the screen`).toBeLessThanOrEqual(0)
      if (device === 'tablet') expect(await small(page), `${path} can be used with a finger`).toEqual([])
      else {
        await page.setViewportSize({ width: 1024, height: 768 })
        await expect
          .poll(
            () => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth),
            `${path} is not wider than a tablet lying on its side`,
          )
          .toBeLessThanOrEqual(0)
        await page.setViewportSize(size)
      }
    }
    await page.goto(`${demo.url}/count`)
    await page.getByRole('button', { name: 'Count it here' }).first().click()
    const sure = page.getByRole('button', { name: 'Count all the same' })
    await expect(page.locator('.sheet').or(sure)).toBeVisible()
    if (await sure.isVisible()) await sure.click()
    await expect(page.locator('.sheet')).toBeVisible()
    await check(page, 'sheet', theme === 'light')
    await page.getByRole('button', { name: 'Grid' }).click()
    await check(page, 'grid', theme === 'light')
    await page.context().close()
  })
}
