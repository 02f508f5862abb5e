import type { Page } from '@playwright/test'
import type { Item, LevelsView, Proposal } from '@shelve/contract'
import { Hands, today, took } from './hands.ts'
import { expect, item, signIn, type Stage } from './stage.ts'

/** Setting up and asking for: each as few actions as can be. */
export async function settingUp(page: Page, demo: Stage): Promise<void> {
  await signIn(page, demo, 'tova', 'Wet lab')
  const hands = new Hands(page)
  const begin = () => today(page, demo.url)

  // An item that comes in two packs, each with its barcode, with minimum and target where one works.
  const made = async (code: string) => {
    await expect(page.getByText(/ is saved\./)).toBeVisible()
    const it = (await item(page, demo, code)) as unknown as Item
    expect(it.codes.length + it.packs.flatMap(p => p.codes).length, 'three barcodes').toBe(3)
    expect(it.packs.map(p => [p.name, p.size])).toEqual([
      ['box', '10'],
      ['case', '120'],
    ])
    const { places } = (await (await page.request.get(`${demo.url}/api/items/${it.id}/stock`)).json()) as {
      places: { name: string; levels: LevelsView }[]
    }
    expect(places.map(p => [p.name, p.levels.minimum, p.levels.target])).toEqual([['Wet lab', '6', '24']])
  }
  const box = (label: string, n = 0) => page.getByLabel(label, { exact: true }).nth(n)
  await begin()
  await hands.click(page.getByRole('link', { name: 'Set-up' }))
  await hands.click(page.getByRole('link', { name: 'New item' }))
  await hands.field(box('Name'), 'Crucible lid')
  await hands.field(page.getByLabel('Counted or measured in'), 'each')
  await hands.field(page.getByLabel(/^Barcodes of one/), '9520000001105')
  for (const [n, [name, size, code]] of [
    ['box', '10', '9520000001112'],
    ['case', '120', '9520000001129'],
  ].entries()) {
    await hands.field(box('Pack', n), name!)
    await hands.field(page.getByLabel(/^holds/).nth(n), size!)
    await hands.field(box('Its barcodes', n), code!)
  }
  await hands.field(box('Minimum'), '6')
  await hands.field(box('Target'), '24')
  await hands.click(page.getByRole('button', { name: 'Make this item' }))
  await made('CRU-L')
  took('an item with two packs, three barcodes and its levels', 'mouse', hands)

  await begin()
  await hands.key('/')
  await hands.type('Crucible tongs')
  const offer = page.getByRole('option', { name: 'New item “Crucible tongs”' })
  await expect(offer).toBeVisible()
  while ((await offer.getAttribute('aria-selected')) !== 'true') await hands.key('ArrowDown')
  await hands.key('Enter')
  await expect(page.getByLabel('Counted or measured in')).toBeFocused()
  await expect(box('Name')).toHaveValue('Crucible tongs')
  await hands.type('each')
  const codes = page.getByLabel(/^Barcodes of one/)
  for (let n = 0; n < 12 && !(await codes.evaluate(e => e === document.activeElement)); n++) await hands.key('Tab')
  await hands.type('9520000001204')
  await hands.key('Tab')
  for (const [name, size, code] of [
    ['box', '10', '9520000001211'],
    ['case', '120', '9520000001228'],
  ]) {
    await hands.type(name!)
    await hands.key('Enter')
    await hands.type(size!)
    await hands.key('Enter')
    await hands.type(code!)
    await hands.key('Enter')
  }
  await hands.key('Enter')
  await expect(box('Minimum')).toBeFocused()
  await hands.type('6')
  await hands.key('Tab')
  await hands.type('24')
  await hands.key('Enter')
  await made('CRU-T')
  took('an item with two packs, three barcodes and its levels', 'keyboard', hands)

  // All that is proposed of one source, whatever it is, is asked for as it was asked the last time.
  await page.getByLabel('Where I am working').selectOption({ label: 'All my places' })
  const most = async () => {
    const { proposals } = (await (await page.request.get(`${demo.url}/api/restock`)).json()) as {
      proposals: Proposal[]
    }
    return proposals.filter(p => p.source.kind === 'supplier').sort((a, b) => b.lines.length - a.lines.length)[0]!
  }
  const from = await most()
  await begin()
  await hands.click(page.getByRole('link', { name: 'Restock' }))
  const slip = page.locator('section.slip').filter({ has: page.getByRole('heading', { name: from.name, exact: true }) })
  await hands.click(slip.getByRole('button', { name: 'Write this slip' }))
  await expect(page.locator('[data-line]')).toHaveCount(from.lines.length)
  await hands.click(page.getByRole('button', { name: 'Mark as asked for' }))
  await expect(page.getByLabel('How, or where')).not.toHaveValue('')
  await hands.click(page.getByRole('button', { name: 'It is asked for' }))
  await expect(page.getByText(new RegExp(`${from.name} is asked: ${from.lines.length} lines`))).toBeVisible()
  took('all that is proposed of one supplier asked for', 'mouse', hands)

  const next = await most()
  await begin()
  await hands.key('Alt+7')
  const writes = page.getByRole('button', { name: 'Write this slip' })
  await expect(writes.first()).toBeFocused()
  while (
    !(await page.locator('section.slip:focus-within').getByRole('heading', { name: next.name, exact: true }).count())
  )
    await hands.key('ArrowDown')
  await hands.key('Enter')
  await expect(page.locator('[data-line]')).toHaveCount(next.lines.length)
  await expect(page.locator('[data-line]').first()).toBeFocused()
  await hands.key('Control+Enter')
  await expect(page.getByLabel('How, or where')).toBeFocused()
  await hands.type('by telephone')
  await hands.key('Enter')
  await expect(page.getByText(new RegExp(`${next.name} is asked: ${next.lines.length} line`))).toBeVisible()
  took('all that is proposed of one supplier asked for', 'keyboard', hands)
}
