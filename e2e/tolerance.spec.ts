import { expect, signIn, test, verified } from './stage.ts'

test('how far off a count may be is said by category and item; Look back says how right the books were', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova')
  await page.goto(`${demo.url}/setup/categories`)
  await page.getByRole('button', { name: 'Change Cleaning' }).click()
  const limits = page.getByRole('group', { name: 'A count may be off by at most' })
  await expect(limits).toContainText('Nothing here: 5 %, by the organisation.')
  await limits.getByLabel('per cent').fill('2,5')
  await page.getByRole('button', { name: 'Save category' }).click()
  await expect(page.getByRole('button', { name: 'Save category' })).toHaveCount(0)
  await expect(page.getByRole('row', { name: /^Cleaning/ })).toContainText('2.5 %')
  await page.getByRole('button', { name: 'Change Cleaning' }).click()
  await expect(limits.getByLabel('per cent')).toHaveValue('2.5')

  // What it hands down stands beside its items' own, which they give up again.
  const items = await page.request.get(`${demo.url}/api/items?limit=500`)
  const { rows } = (await items.json()) as { rows: { id: string; category: { name: string } | null }[] }
  const { id } = rows.find(r => r.category?.name === 'Cleaning')!
  const own = async () => {
    const r = await page.request.get(`${demo.url}/api/items/${id}`)
    return ((await r.json()) as { ownTolerance: unknown }).ownTolerance
  }
  for (const [typed, kept] of [
    ['1', { quantity: '1', percent: null, value: null }],
    ['', null],
  ] as const) {
    await page.goto(`${demo.url}/setup/items/${id}`)
    await page.getByText('More: cost').click()
    await expect(limits).toContainText('Nothing here: 2.5 %, by Cleaning.')
    await limits.getByRole('textbox').first().fill(typed)
    await page.getByRole('button', { name: 'Save item' }).click()
    await expect(page.getByRole('button', { name: 'Save item' })).toHaveCount(0)
    expect(await own()).toEqual(kept)
  }

  await page.goto(`${demo.url}/setup/organisation`)
  await page.getByLabel('A count may be off by so many per cent').fill('4')
  await page.getByLabel('… and by no more than this in value').fill('12.50')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Saved.')).toBeVisible()
  await page.goto(`${demo.url}/setup/changes`)
  await expect(page.getByRole('row', { name: /Value that a count may be off/ })).toContainText('12.5')

  await page.goto(`${demo.url}/look-back/counts`)
  await page
    .getByRole('row', { name: /^Galley/ })
    .getByRole('link')
    .click()
  await expect(page).toHaveURL(/kind=count/)
  await expect(page.getByRole('row', { name: /CT-/ }).first()).toBeVisible()
  expect(await verified(page, demo)).toEqual([])
})
