// Where a scan lands, at any pace: into the field that is for a code, else to the screen; and what a hand types stays typed.
import { followed } from './at-rest.ts'
import { go, item, scan, signIn, test, expect, type } from './stage.ts'
import { symbolsIn } from '../server/test/pdf.ts'

const NOBODYS = '9529990000018'

test('a scanner at 5, 40 and 90 ms a key, and one that stutters, is heard in any field', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await go(page, 3, 'What is handed out')
  const gloves = await item(page, demo, 'GLV-M')
  const quantity = page.getByLabel('Handed out: Nitrile gloves, medium')
  await scan(page, gloves.codes[0]!, 5)
  await expect(quantity).toHaveValue('1')
  for (const [pace, then] of [
    [40, '2'],
    [90, '3'],
  ] as const) {
    await quantity.focus()
    await scan(page, gloves.codes[0]!, pace)
    await expect(quantity).toHaveValue(then)
  }
  await quantity.focus()
  await scan(page, gloves.codes[0]!.replace(/(.{6})(.{4})/, '$1~$2~'))
  await expect(quantity).toHaveValue('4')
  // A code without a check digit is one in a field too, where it comes quickly.
  await quantity.focus()
  await scan(page, 'glv-m', 30)
  await expect(quantity).toHaveValue('5')

  // A hand at 70 ms a key: 1250, and Enter goes on.
  await quantity.fill('')
  await scan(page, '1250', 70)
  await expect(quantity).toHaveValue('1250')
  // The end of a code whose head is two seconds gone: nothing is done with it, and the amount is as it was.
  await quantity.focus()
  await page.keyboard.press('End')
  await scan(page, 'LAB-0^0017')
  await expect(page.getByText(/Only the end of a code came/)).toBeVisible()
  await expect(quantity).toHaveValue('1250')
  await expect(page.getByRole('dialog')).toHaveCount(0)
})

test('keys that nobody has the focus for are seen in the scan strip', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await page.goto(`${demo.url}/stock`)
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur())
  const strip = page.getByLabel('Scan or search')
  await type(page, 'glov')
  await expect(strip).toHaveValue('glov')
  await expect(strip).toBeFocused()
  await page.keyboard.press('Escape')
  await expect(strip).toHaveValue('')
  // A slow code without a check digit is a code there, not a word that something sounds like.
  await scan(page, 'GLV-8', 90)
  await expect(page.getByRole('dialog')).toContainText('GLV-8')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  // A button that has the focus keeps it, and is not pressed.
  const button = page
    .getByRole('button', { name: 'Save as' })
    .or(page.getByRole('button', { name: /Save/ }))
    .first()
  await button.focus()
  await scan(page, (await item(page, demo, 'GLV-M')).codes[0]!)
  await expect(page).toHaveURL(/\/items\//)
})

test('a field that is for a code takes the scan, on every screen', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const agar = await item(page, demo, 'AGR-M')
  const gloves = await item(page, demo, 'GLV-M')

  // A pack's barcode is the pack's; one that nobody knows is no question here.
  await page.goto(`${demo.url}/setup/items/new`)
  await page.getByLabel('Name').fill('Weighing boats')
  await page.getByLabel('Its barcodes').first().focus()
  await scan(page, NOBODYS, 90)
  await scan(page, NOBODYS)
  await expect(page.getByLabel('Its barcodes').first()).toHaveValue(NOBODYS)
  await expect(page.getByLabel(/^Barcodes of one/)).toHaveValue('')
  await expect(page.getByLabel('Name')).toHaveValue('Weighing boats')
  await expect(page.getByRole('dialog')).toHaveCount(0)

  // Filters: by the item's code.
  await page.goto(`${demo.url}/stock`)
  await page.getByLabel('Filter by name or code').focus()
  await scan(page, gloves.codes[0]!)
  await expect(page.getByLabel('Filter by name or code')).toHaveValue('GLV-M')
  await expect(page).toHaveURL(/q=GLV-M/)

  // A delivery: their number, the lot as it stands on the label, and out of a GS1 code with its date.
  await page.goto(`${demo.url}/receive`)
  await page.getByLabel('Delivery note').focus()
  await scan(page, 'DN-40017')
  await expect(page.getByLabel('Delivery note')).toHaveValue('DN-40017')
  await scan(page, agar.codes[0]!)
  const lot = page.getByLabel(/^Lot.*Agar plates, marine/)
  await lot.focus()
  await scan(page, 'QX-2231')
  await expect(lot).toHaveValue('QX-2231')
  await lot.focus()
  await scan(page, '10QX2232\x1d17270630')
  await expect(lot).toHaveValue('QX2232')
  await expect(page.getByLabel('Use by date of Agar plates, marine')).toHaveValue(/2027|27/)
  // What names another item is not the lot of this one.
  await lot.focus()
  await scan(page, gloves.codes[0]!)
  await expect(lot).toHaveValue('QX2232')
  await expect(page.getByLabel('Arrived: Nitrile gloves, medium')).toHaveValue('1')
  // The lot is on a label, and the keyboard is in the amount: the dialog offers what it may be.
  await scan(page, `01${agar.codes[0]!.padStart(14, '0')}`)
  await lot.fill('')
  await page.getByLabel('Arrived: Agar plates, marine').focus()
  await scan(page, 'QX-2240')
  await page.getByRole('button', { name: 'It is the lot of Agar plates, marine' }).click()
  await expect(lot).toHaveValue('QX-2240')
})

for (const theme of ['light', 'dark'] as const)
  test(`every code that is shown is read off the screen by another program: ${theme}`, async ({ browser, demo }) => {
    const page = await (await browser.newContext({ colorScheme: theme })).newPage()
    await signIn(page, demo, 'tova', 'Galley')
    const { rows } = (await (await page.request.get(`${demo.url}/api/transfers`)).json()) as {
      rows: { id: string; number: string }[]
    }
    const seen = () => page.screenshot().then(symbolsIn)
    await page.goto(`${demo.url}/transfers/${rows[0]!.id}`)
    await expect(page.getByRole('img', { name: `Barcode ${rows[0]!.number}` })).toBeVisible()
    expect(await seen()).toEqual([rows[0]!.number])
    await page.goto(`${demo.url}/setup/cards`)
    await expect(page.getByRole('img', { name: 'Barcode SVC-STOCK' })).toBeVisible()
    await expect(page.getByRole('img', { name: 'Test barcode' })).toBeVisible()
    const cards = await page
      .getByRole('img', { name: /^Barcode / })
      .evaluateAll(all =>
        all
          .filter(c => c.getBoundingClientRect().bottom < innerHeight)
          .map(c => c.getAttribute('alt')!.replace('Barcode ', '')),
      )
    expect(cards.length).toBeGreaterThan(5)
    expect(await seen()).toEqual(expect.arrayContaining(cards))
    expect((await seen()).length, 'and the test of a scanner').toBeGreaterThan(cards.length)
    await page.context().close()
  })

test('the scanner test knows a slow scanner by its pace and its prefix', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await page.goto(`${demo.url}/setup/cards`)
  await expect(page.getByRole('img', { name: 'Test barcode' })).toBeVisible()
  const sent = page.getByRole('status').filter({ hasText: 'signs' })
  await scan(page, 'LAB-00017', 8, '')
  await expect(sent).toContainText('nothing ends it')
  await scan(page, '#010952012345678810AZ-QWYM/7\x1d21S1', 90)
  await expect(sent).toContainText('90 ms a key')
  await expect(sent).toContainText('“#” comes before each code')
  await expect(sent).toContainText('read as item 09520123456788')
  await page.getByRole('button', { name: 'Know it by 90 ms a key, “#” before each code' }).click()
  await expect(page.getByText('This device knows its scanner by 90 ms a key, “#” before each code.')).toBeVisible()

  // Now its codes are known in a field too, without the prefix; a hand’s amount stays one.
  await go(page, 3, 'What is handed out')
  await scan(page, '#GLV-M', 90)
  const quantity = page.getByLabel('Handed out: Nitrile gloves, medium')
  await expect(quantity).toHaveValue('1')
  await quantity.focus()
  await scan(page, '#GLV-M', 90)
  await expect(quantity).toHaveValue('2')
  await quantity.fill('')
  await scan(page, '1250', 90)
  await expect(quantity).toHaveValue('1250')
})

test('a code nobody knows is made an item by a keeper, from the slip and back to its line; whoever sets up completes it', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await go(page, 3, 'What is handed out')
  await scan(page, '9529990000025')
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('button', { name: 'New item with this code' }).click()
  await expect(dialog.getByLabel('What is it?')).toBeFocused()
  await type(page, 'Weighing boats')
  await dialog.getByLabel('a pack of several').check()
  await dialog.getByLabel('holds (each)').fill('25')
  await dialog.getByRole('button', { name: 'Make this item' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(page.getByLabel('Handed out: Weighing boats')).toHaveValue('1')
  await expect(page.getByLabel('Unit of Weighing boats')).toHaveValue('case')

  await page.context().clearCookies()
  await signIn(page, demo, 'tova', 'Wet lab')
  await page.goto(demo.url)
  const waits = page.getByRole('listitem').filter({ hasText: '1 item to be completed' })
  await expect(waits).toContainText('Weighing boats')
  await waits.getByRole('link').first().click()
  await expect(page.getByText(/Ines Corrie wrote it down where it was found/)).toBeVisible()
  await expect(page.getByLabel(/^Code/)).toHaveValue('WEI-B')
  await page.getByRole('button', { name: 'Save item' }).click()
  await expect(page.getByText('Weighing boats is saved.')).toBeVisible()
  const atRest = followed(page)
  await page.goto(demo.url)
  await atRest()
  await expect(page.getByText('to be completed')).toHaveCount(0)
})

test('whom an issue is for is chosen by nobody who merely passes by', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const { rows } = (await (await page.request.get(`${demo.url}/api/jobs`)).json()) as {
    rows: { name: string; own: string }[]
  }
  await go(page, 3, 'What is handed out')
  const whom = page.getByLabel(/^For/)
  await expect(whom).toBeFocused()
  // By Tab, with nothing typed; by a scan that moves the keyboard to its line.
  await page.keyboard.press('Tab')
  await expect(whom).toHaveValue('')
  await whom.focus()
  await scan(page, (await item(page, demo, 'GLV-M')).codes[0]!)
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toBeFocused()
  await expect(whom).toHaveValue('')
  // A job's card while the keyboard is there: that job, and no other, wherever the keyboard goes.
  await whom.focus()
  await scan(page, rows.find(r => r.name === 'Nitrate run')!.own)
  await expect(whom).toHaveValue('Nitrate run')
  await scan(page, (await item(page, demo, 'GLV-M')).codes[0]!)
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('2')
  await expect(whom).toHaveValue('Nitrate run')
  // Down the list by the arrow, and Enter; taken out again, nobody is meant.
  await whom.fill('p')
  await page.keyboard.press('ArrowDown')
  const marked = await page.locator('[role="option"][data-headlessui-state="active"]').innerText()
  await page.keyboard.press('Enter')
  await expect(whom).toHaveValue(/^P/)
  expect(marked).toContain(await whom.inputValue())
  await whom.fill('')
  await page.keyboard.press('Tab')
  await expect(whom).toHaveValue('')
})

test('rows of two questions never stand in one list, however late an answer comes', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  let letGo = () => {}
  const held = new Promise<void>(done => (letGo = done))
  await page.route('**/api/slips?**', async route => {
    const answer = await route.fetch()
    if (!route.request().url().includes('kind=')) await held
    await route.fulfill({ response: answer })
  })
  const asked = page.waitForRequest(r => r.url().includes('/api/slips?') && r.url().includes('kind=receipt'))
  await page.goto(`${demo.url}/ledger`)
  await page.getByLabel('Kind of slip').selectOption('receipt')
  const rows = page.locator('tbody tr')
  // The answer about all kinds comes when deliveries alone are wanted: it is never shown, not for a moment.
  const others = rows.filter({ hasNotText: 'Delivery' })
  const seen = page.evaluate(
    () =>
      new Promise<number>(done => {
        let most = 0
        const look = () => {
          const rows = [...document.querySelectorAll('tbody tr')]
          most = Math.max(most, rows.filter(r => !r.textContent!.includes('Delivery')).length)
          if (rows.length && !rows.some(r => !r.textContent!.includes('Delivery'))) done(most)
        }
        new MutationObserver(look).observe(document.body, { childList: true, subtree: true })
      }),
  )
  letGo()
  await asked
  expect(await seen).toBe(0)
  await expect(others).toHaveCount(0)
})
