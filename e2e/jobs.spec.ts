// Jobs: what they need and whether it is there; kept, handed out, lived on two screens; taken from a file; made from the For field.
import { expect, go, isFor, item, scan, signIn, test, type, verified } from './stage.ts'
import type { Page } from '@playwright/test'
import type { Stage } from './stage.ts'

const row = (page: Page, name: string) => page.getByRole('row').filter({ hasText: name })
const level = async (page: Page, demo: Stage, code: string, place: string) => {
  const it = await item(page, demo, code)
  const { places } = (await (await page.request.get(`${demo.url}/api/items/${it.id}/stock`)).json()) as {
    places: { name: string; levels: { reserved: string; available: string; onHand: string } }[]
  }
  return places.find(p => p.name === place)!.levels
}

test('a dinner is scaled in its title, what must be made first follows, what is here is kept and handed out; another screen sees it all', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ruben', 'Galley')
  const tova = await (await browser.newContext()).newPage()
  await signIn(tova, demo, 'tova', 'Galley')
  // It waits on Today, and leads there.
  await page.getByRole('listitem').filter({ hasText: 'Fish dinner' }).getByRole('link').press('Enter')
  const title = page.getByRole('heading', { level: 1 })
  await expect(title).toContainText('Fish dinner')
  await tova.goto(page.url())
  const much = page.getByLabel('For how much')
  await expect(row(page, 'Lemons')).toContainText('10.4, in whole ones')
  await expect(page.getByRole('region', { name: 'First: White sauce' })).toContainText('2.5 L')
  await expect(page.getByRole('region', { name: 'First: Fish stock' })).toContainText('1.974 L')
  await much.focus()
  await much.press('Control+a')
  await type(page, '40')
  // 1.8 × 40 ÷ 10 ÷ 0.88, and of sauce 3.7, made in half litres.
  await expect(page.getByLabel('Takes of White fish, frozen')).toHaveAttribute('placeholder', '8.182')
  await expect(page.getByRole('region', { name: 'First: White sauce' })).toContainText('4 L')
  await expect(tova.getByLabel('For how much'), 'by itself, on the other screen').toHaveValue('40')
  await expect(tova.getByLabel('Takes of White fish, frozen')).toHaveAttribute('placeholder', '8.182')
  await much.fill('lots')
  await expect(page.getByRole('alert')).toContainText('“lots” is no quantity')
  await much.fill('26')
  await expect(tova.getByLabel('For how much')).toHaveValue('26')
  // By hand: other than its template says, for this dinner alone.
  const lemons = page.getByLabel('Takes of Lemons')
  await lemons.fill('15')
  await expect(row(tova, 'Lemons').getByRole('textbox')).toHaveValue('15')
  // Kept for it: others may take it only knowing.
  const before = await level(page, demo, 'LEM-U', 'Galley')
  await page.getByRole('button', { name: 'Keep Lemons for it' }).click()
  await expect(page.getByLabel('Keep of Lemons')).toBeFocused()
  await type(page, '900')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('The job lacks 15 each of Lemons: 900 is more than that.')
  await page.getByLabel('Keep of Lemons').fill('')
  await page.keyboard.press('Enter')
  await expect(row(tova, 'Lemons')).toContainText('15 kept for it')
  const kept = await level(page, demo, 'LEM-U', 'Galley')
  expect([Number(kept.reserved), Number(before.available) - Number(kept.available)]).toEqual([15, 15])
  await go(tova, 3, 'What is handed out')
  await isFor(tova, 'Breakfast')
  await tova.getByRole('combobox', { name: /Scan or type what/ }).focus()
  await type(tova, 'Lemons')
  await tova.keyboard.press('Enter')
  await tova.getByLabel(/^Handed out: Lemons/).fill(String(Number(kept.available) + 2))
  await expect(tova.getByText(/2 of this is set aside for Fish dinner \(J-0001\)/)).toBeVisible()
  await tova.keyboard.press('Control+Enter')
  await expect(tova.getByText(/IS-\d+ is booked/)).toBeHidden()
  await tova.getByRole('button', { name: 'Take it from that job' }).click()
  await expect(tova.getByText(/is set aside for/)).toBeHidden()
  await tova.keyboard.press('Control+Enter')
  await expect(tova.getByText(/IS-\d+ is booked/)).toBeVisible()
  await expect(row(page, 'Lemons'), 'the job lacks them').toContainText(
    '15 were kept for it: stock has fallen under that',
  )
  await expect(row(page, 'Lemons')).toContainText('Missing 2')
  // What is here is handed out as one slip, by keyboard; what is short stays owed.
  await page.getByRole('button', { name: 'Hand out what is here' }).press('Enter')
  await expect(page.getByRole('heading', { name: 'What is handed out', level: 1 })).toBeVisible()
  await expect(page.getByLabel(/^For/)).toHaveValue('Fish dinner')
  await expect(page.getByLabel(/^Handed out: Lemons/)).toHaveValue('13')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  // Back where it was begun.
  await expect(row(page, 'Lemons')).toContainText('Missing 2')
  await expect(row(page, 'White fish, frozen')).toContainText('all taken')
  // Done: the rest is needed no more, nor what was to be made for it.
  await page.getByRole('button', { name: 'It is done' }).click()
  await expect(page.getByText('done', { exact: true })).toBeVisible()
  await expect(page.getByRole('region', { name: 'First: White sauce' })).toBeHidden()
  await page.getByRole('button', { name: 'Open it again' }).click()
  await expect(page.getByRole('region', { name: 'First: White sauce' })).toContainText('2.5 L')
  expect(await verified(tova, demo)).toEqual([])
})

test('a job is begun by a template and from the strip found again; lines by scanner and keyboard; what is elsewhere is brought', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await page.goto(`${demo.url}/jobs`)
  await expect(page.getByRole('row').filter({ hasText: 'Water sampling' })).toContainText('Wet lab')
  await page.getByRole('button', { name: 'New job' }).press('Enter')
  await expect(page.getByRole('combobox', { name: 'By', exact: true })).toBeFocused()
  await page.getByRole('combobox', { name: 'By', exact: true }).selectOption({ label: 'Nitrate run, one station' })
  await page.getByLabel('For how much').fill('3')
  // What is no day is not begun without one.
  await page.getByLabel('By when', { exact: true }).fill('next week')
  await page.keyboard.press('Enter')
  await expect(page.getByText('“next week” (By when) is no date.')).toBeVisible()
  await page.getByLabel('By when', { exact: true }).fill('1 12')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/Nitrate run, one station for +times/)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Tuesday 1 December')
  await expect(page.getByLabel('For how much')).toHaveValue('3')
  // A scan puts the thing on it; scanned again it is that line.
  await scan(page, (await item(page, demo, 'GLV-M')).codes[0]!)
  const gloves = page.getByLabel(/^Takes of Nitrile gloves/)
  await expect(gloves).toBeFocused()
  await type(page, '12')
  await expect(row(page, 'Nitrile gloves')).toContainText('Here')
  // What lies in another stockroom is told, and brought by a move.
  await page.getByRole('combobox', { name: 'What else it takes' }).focus()
  await type(page, 'Zinc anode')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Takes of Zinc anode')).toBeFocused()
  await expect(row(page, 'Zinc anode')).toContainText(/Elsewhere|Missing/)
  await page.getByRole('button', { name: 'Take Zinc anode off' }).click()
  await expect(row(page, 'Zinc anode')).toHaveCount(0)
  await page.getByRole('button', { name: 'Day, place, who' }).click()
  await page.getByLabel('What it is called').fill('Nitrate before the storm')
  const at = page.getByLabel('at', { exact: true })
  await at.fill('half past six')
  await page.getByLabel('Their reference').fill('LAB-77')
  await expect(page.getByText('A time like 14:30')).toBeVisible()
  await at.fill('18.30')
  await at.press('Tab')
  await expect(at).toHaveValue('18:30')
  await page.getByLabel('Who sees to it').selectOption({ label: 'Ines Corrie' })
  await expect(page.getByText(/Ines Corrie sees to it/)).toBeVisible()
  await page.reload()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Nitrate before the storm')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('18:30')
  await expect(gloves).toHaveValue('12')
  // Found by what it is called, by its number, and by what the others call it.
  const number = await page
    .locator('main .mono', { hasText: /^J-\d+$/ })
    .first()
    .innerText()
  for (const words of ['before the storm', number, 'LAB-77']) {
    await page.goto(`${demo.url}/stock`)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await page.keyboard.press('/')
    await expect(page.getByRole('combobox', { name: 'Scan or search' })).toBeFocused()
    await type(page, words)
    await page
      .getByRole('option', { name: /Nitrate before the storm/ })
      .first()
      .click()
    await expect(page.getByRole('heading', { level: 1 })).toContainText('Nitrate before the storm')
  }
  // A name with nothing behind it is made where it is wanted, by a keeper, without leaving the slip.
  await go(page, 3, 'What is handed out')
  await page.getByLabel(/^For/).fill('Broken autosampler')
  await page.getByRole('option', { name: 'New job “Broken autosampler”' }).click()
  await expect(page.getByLabel(/^For/)).toHaveValue('Broken autosampler')
})

test('jobs of another system are taken from a file, again and again; a fault is told by its line and nothing is taken', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ruben', 'Boat shed')
  await page.goto(`${demo.url}/jobs`)
  await page.getByRole('button', { name: 'Take from a file' }).click()
  const text = page.getByLabel('or its text')
  await text.fill(
    'reference,name,day,item,quantity\nWO-115,Bilge pump,2026-12-03,HOS-F,2.5\nWO-115,Bilge pump,2026-12-03,NOWHERE,1',
  )
  await page.getByRole('button', { name: 'Take them' }).click()
  await expect(page.getByRole('alert')).toContainText('Line 3: there is no item “NOWHERE”.')
  await text.fill('reference,name,day,item,quantity\nWO-115,Bilge pump,2026-12-03,HOS-F,2.5\nWO-114,,,ANO-Z,2')
  await page.getByRole('button', { name: 'Take them' }).click()
  const came = page.getByRole('form', { name: 'Jobs from a file' }).getByRole('status')
  await expect(came).toContainText('WO-115 · new')
  await expect(came).toContainText('WO-114 · changed')
  await page.getByRole('button', { name: 'Take them' }).click()
  await expect(came).toContainText('WO-115 · as it was')
  await came.getByRole('link', { name: /Petrel, engine service/ }).click()
  await expect(page.getByLabel('Takes of Zinc anode')).toHaveValue('2')
  await expect(page.getByText('their WO-114')).toBeVisible()
})

test('a job that comes again: chosen by keyboard, the next one stands there once it is done, with what was used last time', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await page.goto(`${demo.url}/jobs`)
  await expect(page.getByRole('row').filter({ hasText: 'Probe check, both boats' })).toContainText('comes again')
  await page.getByRole('link', { name: 'Probe check, both boats' }).press('Enter')
  await expect(page.getByText('comes again every 2 weeks on Thursday')).toBeVisible()
  await page.getByRole('button', { name: 'Day, place, who' }).press('Enter')
  await page.getByLabel('Comes again every so many weeks').fill('1')
  await page.keyboard.press('Tab')
  await page.getByRole('button', { name: 'Monday' }).press('Enter')
  await expect(page.getByText('comes again every week on Monday and Thursday')).toBeVisible()
  // More of one thing is handed out than was planned.
  await page.getByRole('button', { name: 'Hand out what is here' }).press('Enter')
  await page.getByLabel(/^Handed out: Buffer pH 4/).fill('65')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  await page.getByRole('button', { name: 'It is done' }).click()
  await expect(page.getByText('the next is')).toContainText('30 Nov')
  await page.getByText('the next is').getByRole('link').first().press('Enter')
  const last = page.getByRole('button', { name: /Take as much Buffer pH 4.* as the last time: 65/ })
  await last.press('Enter')
  await expect(page.getByLabel(/^Takes of Buffer pH 4/)).toHaveValue('65')
  await expect(page.getByText('before it')).toBeVisible()
  // The one that is over, found among those that are: another is begun like it.
  await page.goto(`${demo.url}/jobs?over=yes`)
  await page.getByRole('link', { name: 'Probe check, both boats' }).first().press('Enter')
  // Where what one begins by is not to be had at first, it comes by itself.
  await page.route('**/api/jobs/over', route => route.abort(), { times: 1 })
  await page.getByRole('link', { name: 'Begin one like it' }).press('Enter')
  await expect(page.getByRole('form', { name: 'New job' }).getByRole('combobox').first()).toHaveValue(/^j/)
  await page.getByLabel('What it is called').fill('Probe check, the hide')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Probe check, the hide')
  await expect(page.getByLabel(/^Takes of Buffer pH 4/)).toHaveValue(/\d/)
})
