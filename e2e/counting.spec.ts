import { readFileSync } from 'node:fs'
import { countHere, expect, go, isFor, item, onHand, scan, signIn, type Stage, test, type, verified } from './stage.ts'
import type { Page } from '@playwright/test'
import { pageCode } from '../core/src/codes/own.ts'

test('some things are counted together, each line by two, in an area that is closed meanwhile; a line left out is said', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await go(page, 6, 'Which area is counted?')
  await page.getByRole('link', { name: 'What is counted together' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Gloves and tips')
  await page.getByRole('button', { name: 'Count it together' }).click()
  await expect(page.getByRole('alert')).toHaveText('Which items? Scan or type them.')
  const gloves = (await item(page, demo, 'GLV-M')) as unknown as { name: string }
  for (const code of ['GLV-M', 'GLV-L', 'PIP-200']) {
    await page.getByLabel('Scan or type an item').fill(code)
    await page.getByLabel('Scan or type an item').press('Enter')
  }
  await expect(page.getByRole('list', { name: 'Its items' }).getByRole('listitem')).toHaveCount(3)
  await page.getByLabel('Counted every so many days').fill('7')
  await page.getByRole('button', { name: 'Count it together' }).click()
  await expect(page.getByText('every 7 days')).toBeVisible()

  await page.getByRole('link', { name: 'Back to Count' }).click()
  await page.getByLabel('each line by two').check()
  await page.getByLabel('closed meanwhile').check()
  const row = page.getByRole('row', { name: /Gloves and tips/ })
  await row.getByRole('button', { name: 'Count it here' }).click()
  // Slips that lie about may stand in the way: they are told first.
  const sheet = page.getByRole('heading', { name: 'Gloves and tips, Wet lab' })
  const allTheSame = page.getByRole('button', { name: 'Count all the same' })
  await expect(sheet.or(allTheSame)).toBeVisible()
  if (await allTheSame.isVisible()) await allTheSame.click()
  await expect(sheet).toBeVisible()
  await expect(page.getByText('3 wait for me')).toBeVisible()

  // Somebody else books nothing there meanwhile, and is told why.
  const other = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
  await signIn(other, demo, 'ines', 'Wet lab')
  await expect(other.getByText('Wet lab is closed for counting').first()).toBeVisible()
  await go(other, 3, 'What is handed out')
  await isFor(other, 'Nitrate run')
  await other.locator('[data-add] input').fill('GLV-M')
  await other.locator('[data-add] input').press('Enter')
  await other.keyboard.press('Control+Enter')
  await expect(other.getByText(/Wet lab is closed for counting since .* by Tova Brand/)).toBeVisible()

  // Tova counts two, and leaves the third out.
  const counted = (p: typeof page) => p.locator('#counted')
  const type = async (p: typeof page, text: string) => {
    await expect(counted(p)).toBeFocused()
    await counted(p).fill(text)
    await p.keyboard.press('Enter')
  }
  const first = await page.locator('section.slip p.text-\\[24px\\]').innerText()
  await type(page, '7')
  await expect(page.getByText('2 wait for me')).toBeVisible()
  await type(page, '9')
  await expect(page.getByText('1 wait for me')).toBeVisible()
  // That was the last one: the review comes by itself.
  await page.getByRole('button', { name: 'Leave it out' }).click()
  await expect(page.getByText('2 lines wait for a second counter')).toBeVisible()
  await expect(page.getByText('1 left out on purpose')).toBeVisible()

  // The second counter is not shown what the first found.
  await go(other, 6, 'Which area is counted?')
  await other.getByRole('link', { name: 'Go on with the sheet of Tova Brand' }).click()
  await expect(other.getByText('2 wait for me')).toBeVisible()
  await expect(other.getByText('Tova Brand counted it. What you type stands beside it.')).toBeVisible()
  expect(await other.locator('section.slip p.text-\\[24px\\]').innerText()).toBe(first)
  await type(other, '7')
  await expect(other.getByText('1 wait for me')).toBeVisible()
  await type(other, '8')
  await expect(other.getByText('do not agree').first()).toBeVisible()
  await expect(other.getByRole('cell', { name: '9', exact: true })).toHaveCount(0)
  // A third tally settles it: Tova counts that one again and finds what Ines found.
  const again = page.getByLabel(/^Counted again/)
  await expect(again).toHaveCount(1)
  await again.fill('8')
  await expect(page.getByText('do not agree')).toHaveCount(0)
  await page.getByRole('button', { name: 'Book 2 counted lines' }).click()
  await expect(page.getByText(/CT-\d+ is booked: count of Gloves and tips, 2 lines\. Next due 2 Dec/)).toBeVisible()

  // The booked count says it line by line, also as a list.
  await page.getByRole('button', { name: 'Open it', exact: true }).click()
  await expect(page.getByText(/2 counted, .* 1 left out on purpose/)).toBeVisible()
  await expect(page.getByText('Left out on purpose', { exact: true })).toBeVisible()
  const saved = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save list' }).click()
  await page.getByRole('menuitem', { name: 'as CSV' }).click()
  const lines = readFileSync(await (await saved).path(), 'utf8')
    .trim()
    .split('\r\n')
  expect(lines[0]).toBe('code,name,place,lot,expected,counted,difference,unit,value,note,by,counted at')
  expect(lines).toHaveLength(6)
  expect(lines.filter(l => l.includes('left out'))).toHaveLength(1)

  // The group is not the whole area: it stays closed until it is opened, and then the slip goes through.
  await page.getByRole('link', { name: 'Today' }).click()
  await expect(page.getByText('Wet lab is closed for counting').first()).toBeVisible()
  await go(page, 6, 'Which area is counted?')
  await page.getByRole('button', { name: 'Open Wet lab again' }).click()
  await expect(page.getByText('Wet lab is open again.')).toBeVisible()
  await go(other, 3, 'What is handed out')
  await expect(other.getByText(gloves.name).first()).toBeVisible()
  await expect(other.getByText(/is closed for counting/)).toHaveCount(0)
  await other.keyboard.press('Control+Enter')
  await expect(other.getByText(/IS-\d+ is booked/)).toBeVisible()
  expect(await verified(page, demo)).toEqual([])
})

/** Sheets of Launch Petrel and of Seal hide are one paper, of pages 1 and 2, and of page 3. */
async function twoOnPaper(page: Page, demo: Stage): Promise<void> {
  await signIn(page, demo, 'tova')
  await go(page, 6, 'Which area is counted?')
  await page.getByLabel('Print a sheet of Launch Petrel').check()
  await page.getByLabel('Print a sheet of Seal hide').check()
  await page.getByRole('link', { name: 'Print 2 sheets on paper' }).click()
  await page.getByRole('button', { name: 'Print them' }).click()
  await expect(page.getByRole('heading', { name: /Sheet 1, of 2 parts, is ready/ })).toBeVisible()
}

test('sheets of two areas are one paper under one number; what a count left is counted on a sheet of its own', async ({
  page,
  demo,
}) => {
  await twoOnPaper(page, demo)
  await page.getByRole('link', { name: 'Back to Count' }).click()
  await expect(page.getByText('Sheet 1, Seal hide')).toBeVisible()
  await expect(page.getByText('Sheet 1, Launch Petrel')).toBeVisible()

  await page.getByLabel('with figures').check()
  await page
    .getByRole('row', { name: /Launch Petrel/ })
    .getByRole('button', { name: 'Count it here' })
    .click()
  const sheet = page.getByRole('heading', { name: 'Launch Petrel', level: 1 })
  const allTheSame = page.getByRole('button', { name: 'Count all the same' })
  await expect(sheet.or(allTheSame)).toBeVisible()
  if (await allTheSame.isVisible()) await allTheSame.click()
  await expect(sheet).toBeVisible()
  await page.getByRole('button', { name: 'As expected', exact: true }).click()
  await page.getByRole('button', { name: 'Review 1 counted' }).click()
  await page.getByRole('button', { name: 'Book 1 counted line' }).click()
  await expect(
    page.getByText(/CT-\d+ is booked: count of Launch Petrel, 1 line\. \d+ more are left\. It stays due/),
  ).toBeVisible()
  const left = page.getByRole('button', { name: /^Count the \d+ lines of Launch Petrel that were left/ })
  const n = Number(/\d+/.exec((await left.innerText())!)![0])
  await left.click()
  await expect(sheet.or(allTheSame)).toBeVisible()
  if (await allTheSame.isVisible()) await allTheSame.click()
  await expect(page.getByText(`of ${n} ·`)).toBeVisible()
  await page.getByRole('button', { name: `The other ${n} are as expected` }).click()
  await page.getByRole('button', { name: `Book ${n} counted lines` }).click()
  await expect(page.getByText(/is booked: count of Launch Petrel, \d+ lines\. Next due/)).toBeVisible()
  await expect(left).toHaveCount(0)
})

test('what is scanned and stands on no line joins the sheet where it lies', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  await page.goto(`${demo.url}/count`)
  // What is counted together in the locked cupboard has been due for longest: it comes first.
  await expect(page.getByRole('row').nth(1)).toContainText('Locked cupboard')
  await page.getByRole('button', { name: 'Count it here' }).first().press('Enter')
  await expect(page.getByText(/0 of \d+/)).toBeVisible()
  await scan(page, gloves.codes[0]!)
  await expect(page.getByText('Nitrile gloves, medium joins the sheet.')).toBeVisible()
  await expect(page.locator('.sheet')).toContainText('Nitrile gloves, medium')
  await expect(page.locator('.sheet')).toContainText('B3')
})

test('from the paper that is entered a scan leads on to another: what is typed then is written there', async ({
  page,
  demo,
}) => {
  await twoOnPaper(page, demo)
  await scan(page, pageCode(1, 1))
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Launch Petrel')
  await page.getByLabel('Page 1 was counted: time').fill('10:59')
  await page.locator('[data-row="0"]').fill('3')
  await scan(page, pageCode(1, 3))
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Seal hide')
  await page.getByLabel('Page 3 was counted: time').fill('10:58')
  await page.locator('[data-row="0"]').fill('2')
  await expect(page.getByText(/1 of \d+/)).toBeVisible()
  await page.goBack()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Launch Petrel')
  await expect(page.locator('[data-row="0"]')).toHaveValue('3')
})

test('of what has lots and stands on no line the lot is typed; where nobody can read it, it is unknown, and held', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'ines', 'Wet lab')
  const [cream, tablet] = [await item(page, demo, 'ANT-C'), await item(page, demo, 'ANT-A')]
  await go(page, 6, 'Which area is counted?')
  await countHere(page, 'Wet lab').click()
  const counted = page.locator('#counted')
  await expect(counted).toBeVisible()
  await other.goto(page.url())
  await expect(other.locator('#counted')).toBeVisible()
  await scan(page, cream.codes[0]!)
  const lot = page.getByLabel(/^Lot of /)
  await expect(lot).toBeVisible()
  await counted.focus()
  await type(page, '7')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Which lot? It stands on the package.')).toBeVisible()
  // What was counted is kept already, whatever is scanned or pressed next.
  await expect(page.getByText(/^1 of \d+/)).toBeVisible()
  await lot.focus()
  await type(page, 'XY12')
  await expect(lot).toHaveValue('XY12')
  await expect(lot).toBeFocused()
  await counted.press('Enter')
  await expect(page.getByText('When does this lot expire?')).toBeVisible()
  await page.getByLabel(/^Use by of /).fill('31.3.2027')
  await counted.press('Enter')
  await expect(lot).toHaveCount(0)

  await scan(page, tablet.codes[0]!)
  await expect(lot).toHaveValue('')
  await page.getByRole('button', { name: /^No label/ }).press('Enter')
  await expect(page.getByText('held, until somebody knows what it is')).toBeVisible()
  await counted.focus()
  await type(page, '3')
  await page.keyboard.press('Enter')
  // Whoever counts beside sees of which lots they are.
  await other.getByRole('button', { name: 'Grid' }).click()
  await expect(other.getByRole('row', { name: /ANT-C/ })).toContainText('XY12')
  await expect(other.getByRole('row', { name: /ANT-A/ })).toContainText('unknown')
  await page
    .getByRole('button', { name: /^Review/ })
    .first()
    .click()
  // Nothing was expected of either: they are counted once more.
  await page.getByLabel('Counted again: Antiseptic cream').fill('7')
  await page.getByLabel('Counted again: Antacid tablet').fill('3')
  await page.getByRole('button', { name: /^Book/ }).click()
  await expect(page.getByText(/CN-\d+ is booked|is booked/).first()).toBeVisible()
  for (const [of, code, state] of [
    [cream, 'XY12', 'usable'],
    [tablet, 'unknown', 'held'],
  ] as const) {
    const { rows } = (await (await page.request.get(`${demo.url}/api/items/${of.id}/lots`)).json()) as {
      rows: { code: string | null; state: string }[]
    }
    expect(rows.find(l => l.code === code)?.state).toBe(state)
  }
  expect(await verified(page, demo)).toEqual([])
})

test('what moved within half an hour is said in the review; whoever counted says whether it was before or after', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  const before = await onHand(page, demo, 'GLV-M')
  // Somebody takes two while they are counted, and writes it down before the count is entered.
  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  await scan(page, gloves.codes[0]!)
  await page.getByLabel('Handed out: Nitrile gloves, medium').fill('2')
  await page.keyboard.press('Control+Enter')
  const number = /IS-\d+/.exec(await page.getByText(/IS-\d+ is booked/).innerText())![0]
  await go(page, 6, 'Which area is counted?')
  await countHere(page, 'Wet lab').click()
  const counted = page.locator('#counted')
  await expect(counted).toBeVisible()
  await scan(page, gloves.codes[0]!)
  await expect(page.locator('section.slip p.text-\\[24px\\]')).toHaveText('Nitrile gloves, medium')
  await counted.fill(String(before))
  await counted.press('Enter')
  await page
    .getByRole('button', { name: /^Review/ })
    .first()
    .click()
  // Blind: two figures have to agree before anything is told.
  const again = page.getByLabel('Counted again: Nitrile gloves, medium')
  await expect(again).toBeVisible()
  await expect(page.getByText(/counts as done/)).toHaveCount(0)
  await again.fill(String(before))
  const said = page.getByText(new RegExp(`−2 box .*${number} counts as done`))
  await expect(said).toHaveText(/before this was counted/)
  const row = page.getByRole('row', { name: /Nitrile gloves, medium/ }).first()
  await expect(row).toContainText('+2')
  await page.getByRole('button', { name: /it was after the count/ }).click()
  await expect(said).toHaveText(/after this was counted/)
  await expect(row).toContainText('none')
  // A slip of the finger is taken back in the same place.
  await page.getByRole('button', { name: /it was before the count/ }).click()
  await expect(row).toContainText('+2')
  await page.getByRole('button', { name: /it was after the count/ }).click()
  await expect(row).toContainText('none')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/CT-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before - 2)
  expect(await verified(page, demo)).toEqual([])
})
