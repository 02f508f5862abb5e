// At the counter and at an open shelf: taken by oneself, a list on paper in one go, thrown away by two, served from where it is usual.
import { expect, heldBack, isFor, item, onHand, scan, type Stage, signIn, test, type, verified } from './stage.ts'
import type { Browser } from '@playwright/test'

/** A badge of somebody, as their manager prints it. */
async function badgeOf(browser: Browser, demo: Stage, name: string): Promise<string> {
  const context = await browser.newContext()
  const page = await context.newPage()
  await signIn(page, demo, 'tova')
  const { rows } = (await (await page.request.get(`${demo.url}/api/people`)).json()) as {
    rows: { id: string; signIn: string }[]
  }
  const r = await page.request.post(`${demo.url}/api/people/${rows.find(p => p.signIn === name)!.id}/badge`)
  const { badge } = (await r.json()) as { badge: string }
  await context.close()
  return badge
}

test('a cook takes from the open shelf: badge, scan, done; a mistake is put back, and whoever is next shows who they are', async ({
  page,
  browser,
  demo,
}) => {
  const badge = await badgeOf(browser, demo, 'sorrel')
  await signIn(page, demo, 'ruben', 'Galley')
  const flour = await item(page, demo, 'FLO-W')
  const before = await onHand(page, demo, 'FLO-W', 'Galley')
  await scan(page, badge)
  await expect(page.getByRole('heading', { name: 'Take from Galley' })).toBeVisible()
  await expect(page.getByText('As Sorrel Dunne')).toBeVisible()
  await expect(page.getByRole('link', { name: 'Issue' })).toHaveCount(0)
  await scan(page, flour.codes[0]!)
  const lines = page.getByRole('list', { name: 'What you take' })
  await expect(lines.getByRole('listitem')).toHaveCount(1)
  await scan(page, flour.codes[0]!)
  await expect(page.getByLabel(`How much: ${flour.name}`)).toHaveValue('2')
  // Nothing is lost where the tablet is loaded anew.
  await page.reload()
  await expect(page.getByLabel(`How much: ${flour.name}`)).toHaveValue('2')
  await expect(page.getByRole('button', { name: 'Take 1 thing' })).toBeVisible()
  await page.getByLabel('For', { exact: true }).fill('Bak')
  await page.getByRole('option', { name: /Baking/ }).click()
  await page.getByLabel(`How much: ${flour.name}`).fill('5000')
  await page.getByRole('button', { name: 'Take 1 thing' }).click()
  await expect(lines.getByRole('alert')).toContainText('5000')
  await page.getByLabel(`How much: ${flour.name}`).fill('2')
  // What is scanned while it is being booked is no part of it, and is not lost.
  const come = await heldBack(page, '**/api/takings/**')
  await page.getByRole('button', { name: 'Take 1 thing' }).click()
  await scan(page, flour.codes[0]!)
  await expect(lines.getByRole('listitem')).toHaveCount(2)
  come()
  const taken = page.getByRole('region', { name: 'Taken' })
  await expect(taken.getByRole('status')).toContainText(/IS-\d+ to Baking is booked/)
  await expect(page.getByText('€')).toHaveCount(0)
  expect(await onHand(page, demo, 'FLO-W', 'Galley')).toBe(before - 2)
  await scan(page, flour.codes[0]!)
  await expect(page.getByText('Scan your badge first')).toBeVisible()
  await taken.getByRole('button', { name: 'Take it back' }).click()
  await expect(taken.getByRole('status')).toContainText('is taken back by')
  expect(await onHand(page, demo, 'FLO-W', 'Galley')).toBe(before)
  await scan(page, badge)
  await expect(page.getByLabel(`How much: ${flour.name}`)).toHaveValue('1')
  await lines.getByRole('button', { name: /^One less/ }).click()
  await expect(page.getByText('Scan or type what you take.')).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Take it' })).toBeVisible()
  await expect(page.getByLabel('For', { exact: true })).toHaveValue('Baking')
})

test('a list on paper is entered in one go: each line for its own, by keyboard and card', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await page.goto(`${demo.url}/issue`)
  // Nobody types before the names have come.
  await page.getByLabel('Scan or type what').fill('gloves')
  await expect(page.getByRole('option', { name: /Nitrile gloves, medium/ })).toBeVisible()
  await page.getByLabel('Scan or type what').fill('')
  await page.getByRole('button', { name: 'Each line its own' }).press('Enter')
  const line = async (words: string, typed: string, whom: string, by = '') => {
    await type(page, words)
    await page.keyboard.press('Enter')
    await type(page, typed)
    await page.keyboard.press('Enter')
    if (whom) await type(page, whom)
    if (by) {
      await page.keyboard.press('Tab')
      await type(page, by)
    }
    await page.keyboard.press('Enter')
  }
  await line('gloves nitrile m', '2', 'Nitrate', 'Mirja')
  const table = page.getByRole('table', { name: 'What is handed out' })
  await expect(table.getByLabel(/^For: /)).toHaveValue('Nitrate run')
  await line('marker permanent', '1', 'Plankton')
  await line('marker permanent', '3', 'Gull')
  await expect(table.getByLabel(/^For: /)).toHaveCount(3)
  expect(await table.getByLabel(/^For: /).evaluateAll(all => all.map(i => (i as HTMLInputElement).value))).toEqual([
    'Nitrate run',
    'Plankton plates',
    'Gull pellet survey',
  ])
  // A draft that is opened again is the list that it was.
  await expect(page.getByText(/saved \d\d:\d\d/)).toBeVisible()
  await page.reload()
  await expect(table.getByLabel(/^For: /)).toHaveCount(3)
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked: 3 lines to Nitrate run and 2 more/)).toBeVisible()
  await page.getByRole('button', { name: 'Open it' }).press('Enter')
  await expect(page.getByText('for Mirja')).toBeVisible()
  await expect(page.getByRole('cell', { name: /→ Gull pellet survey/ })).toBeVisible()
  await verified(page, demo)
})

test('two throw it away: the badge of somebody who was there books it', async ({ page, browser, demo }) => {
  const badge = await badgeOf(browser, demo, 'linnea')
  await signIn(page, demo, 'ines', 'Sick bay')
  await page.goto(`${demo.url}/waste`)
  await page.getByLabel('Why, for all lines').selectOption({ index: 1 })
  await page.getByLabel('Scan or type what').fill('antihist')
  await expect(page.getByRole('option', { name: /Antihistamine/ })).toBeVisible()
  await page.keyboard.press('Enter')
  await type(page, '3')
  await page.keyboard.press('Control+Enter')
  const ask = page.getByRole('region', { name: 'Who was there' })
  await expect(ask).toContainText('Two throw away Antihistamine tablet')
  await ask.getByLabel('They sign in as').fill('ines')
  await ask.getByLabel('Their PIN').fill('0000')
  await ask.getByRole('button', { name: 'I was there' }).click()
  await expect(ask.getByText('do not belong together')).toBeVisible()
  await scan(page, badge)
  await expect(page.getByText(/WA-\d+ is booked: 1 line/)).toBeVisible()
  await page.getByRole('button', { name: 'Open it' }).press('Enter')
  await expect(page.getByText('Linnea Roe was there')).toBeVisible()
  await verified(page, demo)
})

test('whoever works in all places is served from where it is usual; in one place they are asked', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await page.goto(`${demo.url}/issue`)
  await isFor(page, 'Morning clinic')
  await expect(page.getByText('Usually from Sick bay')).toBeVisible()
  await page.getByRole('button', { name: 'Take it from there' }).click()
  await expect(page.getByText('This slip is about Sick bay.')).toBeVisible()
  await page.getByLabel('Where I am working').selectOption({ index: 0 })
  await page.goto(`${demo.url}/issue`)
  await isFor(page, 'Breakfast')
  await expect(page.getByText('This slip is about Galley.')).toBeVisible()
})
