// Making: parts first and then what they are for, by keyboard; half of it, spoiled on the way, put right as a whole, taken back.
import { expect, item, signIn, test, type, verified } from './stage.ts'
import type { Page } from '@playwright/test'
import type { Stage } from './stage.ts'

const onHand = async (page: Page, demo: Stage, code: string) => {
  const it = await item(page, demo, code)
  return ((await (await page.request.get(`${demo.url}/api/items/${it.id}/stock`)).json()) as { onHand: string }).onHand
}
const booked = (page: Page, what: RegExp) => expect(page.getByRole('status').filter({ hasText: what })).toBeVisible()

test('a dinner is made from its parts up, half first, with what was spoiled; what was forgotten is put right; another screen sees it', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ruben', 'Galley')
  const tova = await (await browser.newContext()).newPage()
  await signIn(tova, demo, 'tova', 'Galley')
  await page.getByRole('listitem').filter({ hasText: 'Fish dinner' }).getByRole('link').press('Enter')
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Fish dinner')
  await tova.goto(page.url())
  // The stock first: as much as is wanted stands there, the keyboard where it is typed how much came.
  const made = (name: string) => page.getByLabel(`Made: ${name}`)
  await page.getByRole('button', { name: 'Make Stock, fish now' }).press('Enter')
  await expect(made('Stock, fish')).toBeFocused()
  await expect(made('Stock, fish')).toHaveValue('1.9740')
  const onions = page.getByLabel('Goes in: Onions')
  await expect(onions).toHaveValue('0.292')
  // Twice as much is made of it: what goes in follows if that is wanted, and is as it was again.
  await made('Stock, fish').fill('3.9480')
  await page.getByRole('button', { name: 'Reckon it for 3.9480 L' }).press('Enter')
  await expect(onions).toHaveValue('0.585')
  await page.getByRole('button', { name: 'As it was' }).press('Enter')
  await expect(onions).toHaveValue('0.292')
  await made('Stock, fish').fill('1.9740')
  await expect(page.getByText('What goes in is reckoned for')).toBeHidden()
  await made('Stock, fish').press('Control+Enter')
  await booked(page, /MA-\d+ is booked: 5 lines/)
  // Back where it is made for; the other screen heard of it.
  await expect(page.getByRole('region', { name: 'First: Fish stock' })).toContainText('done')
  await expect(tova.getByRole('region', { name: 'First: Fish stock' })).toContainText('done')
  await page.getByRole('button', { name: 'Make Sauce, white now' }).press('Enter')
  await expect(made('Sauce, white')).toBeFocused()
  await page.getByLabel('Goes in: Butter, unsalted').fill('0.4')
  await page.keyboard.press('Control+Enter')
  await booked(page, /MA-\d+ is booked: 4 lines/)
  await expect(tova.getByRole('row').filter({ hasText: 'Sauce, white' })).toContainText('Here')
  await page.getByRole('link', { name: 'Sauce, white, 2.5 L' }).click()
  await expect(page.getByRole('table', { name: 'What was used beside what was planned' })).toContainText('+0.051')
  await page.goBack()

  // Twenty of the twenty-six now, one of them dropped: the rest stays open.
  const fish = Number(await onHand(page, demo, 'FIS-F'))
  await page.getByLabel('How much of Fish dinner is made now').fill('20')
  await page.keyboard.press('Enter')
  await expect(made('Fish dinner')).toHaveValue('20')
  await expect(page.getByLabel('More is made for it later')).toBeChecked()
  await made('Fish dinner').fill('19')
  const comes = page.getByPlaceholder('Type what is made, or comes of it beside')
  await expect(comes).toBeVisible()
  await page.getByRole('button', { name: 'Lemons was wasted' }).click()
  await page.getByLabel('Why wasted: Lemons').selectOption({ label: 'wasted: Spoiled' })
  const box = page.getByPlaceholder('Scan or type what goes in')
  await box.focus()
  await type(page, 'lemons')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Goes in: Lemons')).toHaveCount(1)
  await page.getByLabel('Why wasted: Lemons').selectOption({ label: 'not wasted' })
  await page.getByRole('button', { name: /^Book/ }).press('Enter')
  await booked(page, /MA-\d+ is booked: 4 lines/)
  await expect(page.getByText('19 of 26 portion made')).toBeVisible()
  await expect(tova.getByText('19 of 26 portion made')).toBeVisible()
  expect(fish - Number(await onHand(page, demo, 'FIS-F'))).toBeCloseTo(4.091, 6)
  await expect(page.getByLabel('How much of Fish dinner is made now')).toHaveAttribute('placeholder', '7')

  // A tray of lemons was forgotten: made anew in its place, as a whole.
  await page.getByRole('link', { name: /^MA-/ }).first().click()
  await page.getByRole('button', { name: 'Put it right' }).click()
  await expect(page.getByText('stands in the place of the make')).toBeVisible()
  await page.getByLabel('Goes in: Lemons').fill('9')
  await page.getByRole('button', { name: /^Book/ }).press('Enter')
  // Not the words of the make before it.
  await booked(page, /MA-0007 is booked: 4 lines/)
  await expect(tova.getByRole('table', { name: 'What was used beside what was planned' })).toContainText('+1')
  await tova.reload()
  // Taken back whole: nothing of it is left but the slips.
  await tova.getByRole('link', { name: 'MA-0007' }).click()
  await tova.getByRole('button', { name: 'Take the whole slip back' }).click()
  await tova.getByRole('dialog').getByRole('button', { name: 'Take it back' }).click()
  await booked(tova, /Taken back by CR-/)
  expect([await onHand(page, demo, 'DIN-F'), Number(await onHand(page, demo, 'FIS-F')) - fish]).toEqual(['0', 0])
  expect(await verified(tova, demo)).toEqual([])
})

test('a template says what comes of it beside, and which part of the cost that bears; making it offers both', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Galley')
  await page.goto(`${demo.url}/templates`)
  await page.getByRole('link', { name: 'Fish stock' }).click()
  await page.getByRole('link', { name: 'Change it' }).click()
  await page.getByPlaceholder('Type what else comes of it').fill('leeks')
  await page.getByRole('option', { name: /Leeks/ }).click()
  await page.getByLabel('Comes of it: Leeks').fill('0.5')
  await page.getByLabel('Part of the cost: Leeks').fill('a bit')
  await page.getByRole('button', { name: 'Save this template' }).click()
  await expect(page.getByText('A part of the cost is 0 or more')).toBeVisible()
  await page.getByLabel('Part of the cost: Leeks').fill('0')
  await page.getByRole('button', { name: 'Save this template' }).click()
  await expect(page.getByText('beside it 0.5 kg Leeks')).toBeVisible()
})
