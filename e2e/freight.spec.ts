import { expect, go, item, scan, signIn, test, verified } from './stage.ts'

test('freight that comes after the delivery is written down on it, looked at before it is booked, and put right; a grey button says what it wants', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await go(page, 2, 'What arrived')
  // Nothing stands on it: the button keeps the focus and says so.
  await page.getByRole('button', { name: 'Book', exact: true }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByText('Nothing stands on this slip yet: scan or type what it is about.')).toBeVisible()
  await page.getByLabel('Supplier').fill('Quillfern')
  for (const code of ['GLV-M', 'GLV-L']) await scan(page, (await item(page, demo, code)).codes[0]!)
  for (const name of ['Nitrile gloves, medium', 'Nitrile gloves, large']) {
    await page.getByLabel(`Arrived: ${name}`).fill('2')
    // What was paid last is one click; here another price is typed over it.
    const price = page.getByLabel(new RegExp(`^Price of one .*: ${name}`))
    await page.getByRole('button', { name: new RegExp(`^Price as last time, .*: ${name}`) }).click()
    await expect(price).not.toHaveValue('')
    await expect(page.getByText('as usual')).toBeVisible()
    await price.fill('4')
    await expect(page.getByText('as usual')).toHaveCount(0)
  }
  await page.getByRole('button', { name: 'Book 2 lines' }).click()
  await expect(page.getByText(/RC-\d+ is booked/)).toBeVisible()
  await page.getByRole('button', { name: 'Open it', exact: true }).click()
  await page.getByRole('button', { name: 'Add its freight' }).click()
  await expect(page.getByLabel('Freight, amount')).toBeFocused()
  await page.getByLabel('Freight, amount').press('Enter')
  await expect(page.getByText('Nothing is changed yet.')).toBeVisible()
  await page.getByLabel('Freight, amount').fill('9')
  await expect(page.getByText('What lies on the shelf changes by +€9.00')).toBeVisible()
  await page.getByLabel('Freight, amount').press('Enter')
  await expect(page.getByText(/Freight put right by CR-\d+/)).toBeVisible()
  await expect(page.getByText('Freight €9.00 by value')).toBeVisible()
  await page.getByRole('button', { name: 'Put its freight right' }).click()
  await page.getByRole('button', { name: 'Remove Freight' }).click()
  await expect(page.getByText('What lies on the shelf changes by −€9.00')).toBeVisible()
  await page.getByRole('button', { name: 'Book it' }).click()
  await expect(page.getByRole('button', { name: 'Add its freight' })).toBeVisible()
  expect(await verified(page, demo)).toEqual([])
})
