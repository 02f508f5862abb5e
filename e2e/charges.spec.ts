// Who pays: a charge that was wrong goes to another cost centre, what came back spoiled is wasted, a budget warns and then stops.
import { expect, isFor, item, scan, signIn, test, verified } from './stage.ts'

test('a budget warns and then stops; a wrong charge is moved; what comes back spoiled is wasted; each figure opens its slips', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const wipes = await item(page, demo, 'WIP-D')
  // The manager sets a budget that is all but used up.
  await page.goto(`${demo.url}/look-back/budgets`)
  const row = (name: string) => page.getByRole('row').filter({ hasText: name })
  await expect(row('Boats')).toContainText('nearly used up')
  const { rows } = (await (await page.request.get(`${demo.url}/api/budgets`)).json()) as {
    rows: { code: string; used: string }[]
  }
  const used = Number(rows.find(r => r.code === 'BIRD')!.used)
  await row('Seabird survey').getByRole('button', { name: 'Set the budget of Seabird survey' }).press('Enter')
  await page.getByLabel('It may use in the year').fill((used + 10).toFixed(2))
  await page.getByLabel('Stop beyond, in per cent').fill('100')
  await page.keyboard.press('Enter')
  await expect(row('Seabird survey')).toContainText('nearly used up')
  // Who hands out is told; beyond the stop it is refused, with what can be done, and nothing is lost.
  const keeper = await (await browser.newContext()).newPage()
  await signIn(keeper, demo, 'ines', 'Wet lab')
  await keeper.goto(`${demo.url}/issue`)
  await isFor(keeper, 'Seabird survey')
  await scan(keeper, wipes.codes[0]!)
  await expect(keeper.getByText(/With this, Seabird survey has used (99|100)\.?\d* % of its budget/)).toBeVisible()
  await keeper.getByLabel('Handed out: Lint-free wipes').fill('9')
  await keeper.keyboard.press('Control+Enter')
  await expect(keeper.getByRole('alert').filter({ hasText: 'nothing more is charged to it' })).toBeVisible()
  await expect(keeper.getByLabel('Handed out: Lint-free wipes')).toHaveValue('9')
  await isFor(keeper, 'Medical')
  await keeper.keyboard.press('Control+Enter')
  await expect(keeper.getByText(/IS-\d+ is booked/)).toBeVisible()
  // It was for the boats after all: four of them, by keyboard.
  await keeper.getByRole('button', { name: 'Open it' }).click()
  await keeper.getByRole('button', { name: 'Charge it to somebody else' }).press('Enter')
  const whom = keeper.getByRole('combobox', { name: 'To whom instead' })
  await expect(whom).toBeFocused()
  await whom.fill('Boats')
  await whom.press('Enter')
  await keeper.getByLabel('Charged elsewhere: Lint-free wipes').fill('4')
  await keeper.keyboard.press('Control+Enter')
  await expect(keeper.getByText(/CH-\d+ is booked: charged to Boats/)).toBeVisible()
  // Of the rest two come back, torn.
  await keeper.getByRole('button', { name: 'Bring some of it back' }).press('Enter')
  await keeper.getByLabel('Brought back: Lint-free wipes').fill('2')
  await keeper.getByLabel('Where it goes: Lint-free wipes').selectOption({ label: 'wasted: Damaged' })
  await keeper.keyboard.press('Tab')
  await keeper.getByRole('button', { name: /^Book 1 line back/ }).press('Enter')
  await expect(keeper.getByText(/BB-\d+ is booked: brought back/)).toBeVisible()
  // The manager's page has heard of it; its figure opens the slip.
  await expect(row('Boats')).toContainText('Change')
  await row('Boats').getByRole('link').first().click()
  await expect(page.getByRole('row').filter({ hasText: 'Charged elsewhere' })).toBeVisible()
  await page.goto(`${demo.url}/look-back/waste`)
  // What is disposed of by a code stands below, with what it weighs.
  await expect(page.getByRole('table', { name: 'For disposal' })).toContainText('GH-2 chemicals')
  await expect(page.getByRole('table', { name: 'For disposal' })).toContainText(/at least [\d.]+ k?g/)
  await page.getByRole('table', { name: 'Why' }).getByRole('link', { name: 'Damaged' }).press('Enter')
  await expect(page.getByRole('row').filter({ hasText: 'Brought back' }).first()).toBeVisible()
  expect(await verified(page, demo)).toEqual([])
})

test('handed out for several, in parts that add up; what comes back, comes back from each', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const wipes = await item(page, demo, 'WIP-D')
  await page.goto(`${demo.url}/issue`)
  await isFor(page, 'Seabird survey')
  await page.getByRole('button', { name: 'For several' }).press('Enter')
  await expect(page.getByLabel('Part 1, for')).toHaveValue('Seabird survey')
  await isFor(page, 'Water chemistry', /^Part 2, for/)
  await page.getByRole('button', { name: 'One more' }).press('Enter')
  await isFor(page, 'Boats', /^Part 3, for/)
  await expect(page.getByLabel('Part 1 in per cent')).toHaveValue('33.34')
  await page.getByLabel('Part 1 in per cent').fill('50')
  await page.getByLabel('Part 2 in per cent').fill('25')
  await expect(page.getByText('together 108.33 %, not 100 %')).toBeVisible()
  await scan(page, wipes.codes[0]!)
  await expect(page.getByLabel('Handed out: Lint-free wipes')).toHaveValue('1')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('alert').filter({ hasText: 'add up to 108.33 %' })).toBeVisible()
  await page.getByLabel('Part 3 in per cent').fill('25')
  await page.getByLabel('Part 3 in per cent').press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked: 1 line to Seabird survey and 2 more/)).toBeVisible()
  await page.getByRole('button', { name: 'Open it' }).click()
  const line = page.getByRole('row').filter({ hasText: 'Lint-free wipes' })
  for (const part of ['Seabird survey0.5', 'Water chemistry0.25', 'Boats0.25']) await expect(line).toContainText(part)
  await page.getByRole('button', { name: 'Bring some of it back' }).press('Enter')
  await page.getByLabel('Brought back: Lint-free wipes').fill('1')
  await page.keyboard.press('Tab')
  await page.getByRole('button', { name: /^Book 1 line back/ }).press('Enter')
  await expect(page.getByText(/BB-\d+ is booked: brought back/)).toBeVisible()
  await verified(page, demo)
})

test('whoever takes it scans their badge; on an empty slip the tablet changes hands', async ({
  page,
  browser,
  demo,
}) => {
  const manager = await (await browser.newContext()).newPage()
  await signIn(manager, demo, 'tova')
  const people = (await (await manager.request.get(`${demo.url}/api/people`)).json()).rows as {
    id: string
    name: string
  }[]
  const id = people.find(p => p.name === 'Ruben Asker')!.id
  const { badge } = (await (await manager.request.post(`${demo.url}/api/people/${id}/badge`)).json()) as {
    badge: string
  }
  await signIn(page, demo, 'ines', 'Wet lab')
  const wipes = await item(page, demo, 'WIP-D')
  await page.goto(`${demo.url}/issue`)
  await isFor(page, 'Seabird survey')
  await scan(page, wipes.codes[0]!)
  await expect(page.getByLabel('Handed out: Lint-free wipes')).toHaveValue('1')
  await scan(page, badge)
  await expect(page.getByLabel('Taken by')).toHaveValue('Ruben Asker')
  await expect(page.getByRole('button', { name: 'Ruben Asker works here now' })).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  await expect(page.getByLabel('Taken by')).toHaveValue('')
  // Nothing stands on the slip now: whoever scans a badge goes on here.
  await scan(page, badge)
  await expect(page.getByRole('button', { name: /Ruben Asker keeper/ })).toBeVisible()
})
