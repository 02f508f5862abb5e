import { followed } from './at-rest.ts'
import { expect, go, item, onHand, scan, signIn, test, type, isFor } from './stage.ts'

test('a second browser shows each change without any action of its own', async ({ page, browser, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'ruben', 'Wet lab')
  // What translates a page in place would leave old figures standing: nobody may.
  await expect(page.locator('html')).toHaveAttribute('translate', 'no')
  const vials = await item(page, demo, 'VIA-50')
  const has = await onHand(page, demo, 'VIA-50')
  await other.goto(`${demo.url}/items/${vials.id}`)
  await expect(other.getByRole('heading', { name: 'Centrifuge tube 50 ml' })).toBeVisible()
  await go(page, 2, 'What arrived')
  await page.getByLabel('Supplier').fill('Ostrelith')
  await scan(page, vials.packs[0]!.codes[0]!)
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/RC-\d+ is booked/)).toBeVisible()
  await expect(other.getByRole('button', { name: 'On hand everywhere: how it is worked out' })).toHaveText(
    String(has + 25),
  )
  await other.context().close()
})

test('what somebody else gives, takes away or sets up is so at once, in what is chosen from, too', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo)
  const asked = async (method: string, path: string, data: object, revision?: number) => {
    const headers: Record<string, string> = revision === undefined ? {} : { 'if-match': String(revision) }
    const r = await other.request.fetch(demo.url + path, { method, data, headers })
    expect(r.ok(), await r.text()).toBe(true)
  }
  // The categories are not to be had at first: they come once they are.
  await page.route('**/api/categories', route => route.abort(), { times: 1 })
  await page.goto(`${demo.url}/setup/items`)
  const categories = page.getByLabel('Category')
  await expect(categories.getByRole('option', { name: 'Larder' })).toBeAttached()
  await asked('POST', '/api/categories', { name: 'Brushes' })
  await expect(categories.getByRole('option', { name: 'Brushes' })).toBeAttached()

  const setsUp = page.getByRole('link', { name: 'New item' })
  await expect(setsUp).toHaveCount(0)
  const grants = async (role: string, place: string | null) => {
    const { rows } = (await (await other.request.get(`${demo.url}/api/people`)).json()) as {
      rows: {
        id: string
        name: string
        signIn: string
        active: boolean
        revision: number
        grants: { role: string }[]
      }[]
    }
    const { id, name, active, revision, grants } = rows.find(p => p.signIn === 'ines')!
    const all = role ? [...grants, { role, place }] : grants.filter(g => g.role !== 'manager')
    await asked('PUT', `/api/people/${id}`, { name, active, grants: all }, revision)
  }
  await grants('manager', null)
  await expect(setsUp).toBeVisible()
  await grants('', null)
  await expect(setsUp).toHaveCount(0)

  // Account codes: what somebody else sets and makes stands there, beside what is typed here and not saved yet.
  await other.goto(`${demo.url}/setup/accounts`)
  await other.getByLabel('Used', { exact: true }).fill('5010')
  await asked('PUT', '/api/account-codes', { codes: [{ kind: 'wasted', id: null, code: '5199' }] })
  await asked('POST', '/api/categories', { name: 'Brooms' })
  await expect(other.getByLabel('Wasted', { exact: true })).toHaveValue('5199')
  await expect(other.getByLabel('Brooms')).toBeVisible()
  await other.getByRole('button', { name: 'Save 1 code' }).click()
  await expect(other.getByText('The codes are saved')).toBeVisible()
  await expect(other.getByLabel('Used', { exact: true })).toHaveValue('5010')

  // Two change how the organisation works: neither undoes what the other did, and it is so on every screen.
  await other.goto(`${demo.url}/setup/organisation`)
  await other.getByLabel('Name', { exact: true }).fill('Gannet Holm North')
  const days = other.getByLabel(/so many days ahead/)
  const ahead = Number(await days.inputValue()) + 3
  await asked('PUT', '/api/settings', { aheadDays: ahead, decimalMark: ',' })
  await expect(days).toHaveValue(String(ahead))
  await other.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(other.getByText('Saved.')).toBeVisible()
  await page.getByRole('link', { name: 'Stock', exact: true }).click()
  await expect(page.getByText(/^\d+,\d+$/).first()).toBeVisible()
  const { settings } = (await (await page.request.get(`${demo.url}/api/session`)).json()) as { settings: object }
  expect(settings).toMatchObject({ name: 'Gannet Holm North', decimalMark: ',', aheadDays: ahead })
  await other.context().close()
})

test('an unknown barcode is linked to an item and then counts as a scan of it', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await go(page, 2, 'What arrived')
  await scan(page, '9529990000018')
  const dialog = page.getByRole('dialog')
  await expect(page.getByText('Nobody knows this code yet')).toBeVisible()
  // A scanner that sends Enter into the dialog presses no button.
  await scan(page, '9529990000025')
  await expect(page.getByText('Nobody knows this code yet')).toBeVisible()
  // Whoever goes to another work leaves it be; on that screen it would be asked about something else.
  await page.keyboard.press('Alt+3')
  await expect(page.getByRole('heading', { name: 'What is handed out', level: 1 })).toBeVisible()
  await expect(dialog).toHaveCount(0)
  await go(page, 2, 'What arrived')
  await scan(page, '9529990000018')
  await dialog.getByRole('combobox').fill('lint-free')
  await page.keyboard.press('Enter')
  await dialog.getByRole('button', { name: 'Link it' }).click()
  await expect(page.getByLabel('Arrived: Lint-free wipes')).toHaveValue('1')
  await scan(page, '9529990000018')
  await expect(page.getByLabel('Arrived: Lint-free wipes')).toHaveValue('2')
})

test('a burst leaves the field that it hit as it was; a quick typist loses nothing', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await go(page, 2, 'What arrived')
  const supplier = page.getByLabel('Supplier')
  await supplier.focus()
  await type(page, 'Quillfern')
  const gloves = await item(page, demo, 'GLV-M')
  for (let i = 1; i <= 5; i++) {
    await supplier.focus()
    await scan(page, gloves.codes[0]!)
    await expect(page.getByLabel('Arrived: Nitrile gloves, medium')).toHaveValue(String(i))
  }
  await expect(supplier).toHaveValue('Quillfern')
  await supplier.focus()
  await page.keyboard.type(' Lab', { delay: 22 })
  await expect(supplier).toHaveValue('Quillfern Lab')
})

test('a GS1 code fills lot and expiry; the separator may come as Ctrl+]', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await go(page, 2, 'What arrived')
  const ethanol = await item(page, demo, 'ETH-96')
  const gtin = ethanol.packs[0]!.codes[0]!.padStart(14, '0')
  await scan(page, `01${gtin}10E9001\x1d17280331`)
  await expect(page.getByLabel('Lot of Ethanol 96 %')).toHaveValue('E9001')
  await expect(page.getByLabel('Use by date of Ethanol 96 %')).toHaveValue('31 Mar 2028')
})

test('a weighed label counts in the item’s own unit, and scans of one line are added exactly', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Galley')
  await go(page, 2, 'What arrived')
  const flour = (await item(page, demo, 'FLO-W')).codes[0]!.padStart(14, '0')
  const arrived = page.getByLabel('Arrived: Wheat flour')
  await scan(page, `01${flour}3103001000`)
  await expect(arrived).toHaveValue('1')
  await scan(page, `01${flour}3103000118`)
  await expect(arrived).toHaveValue('1.1180')
  const agar = (await item(page, demo, 'AGR-S')).codes[0]!.padStart(14, '0')
  await scan(page, `01${agar}3103001250`)
  await expect(page.getByLabel('Arrived: Agar powder')).toHaveValue('1250')
  // A code nobody knows yet: once it is linked, all that was scanned is read.
  await scan(page, '01095299900000253103000500')
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('combobox').fill('rye')
  await page.keyboard.press('Enter')
  await dialog.getByRole('button', { name: 'Link it' }).click()
  await expect(page.getByLabel('Arrived: Rye flour')).toHaveValue('0.5')
})

test('too much is refused at its line with what can be done; nothing is lost when the session ends', async ({
  page,
  demo,
}) => {
  const atRest = followed(page)
  await signIn(page, demo, 'ines', 'Wet lab')
  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  const vials = await item(page, demo, 'PET-90')
  await scan(page, vials.codes[0]!)
  await page.getByLabel('Handed out: Petri dish 90 mm').fill('9999')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('alert')).toContainText(/9999 each asked, \d+ there in Wet lab/)
  await page.getByRole('button', { name: /^Take the \d+/ }).click()
  await expect(page.getByRole('alert')).toHaveCount(0)
  const typed = await page.getByLabel('Handed out: Petri dish 90 mm').inputValue()
  // All of it is saved, and nothing is under way any more that could hear of it before the next word is typed.
  const drafts = async () =>
    (
      (await (await page.request.get(`${demo.url}/api/slips?state=draft`)).json()) as {
        rows: { id: string; title: string; by: string }[]
      }
    ).rows.filter(r => r.title.includes('Nitrate run'))
  await expect
    .poll(async () => {
      const kept = await Promise.all(
        (await drafts()).map(async r => (await page.request.get(`${demo.url}/api/slips/${r.id}`)).json()),
      )
      return kept.flatMap((k: { content: { lines: { typed: string }[] } | null }) => k.content?.lines ?? []).at(-1)
        ?.typed
    })
    .toBe(typed)
  await atRest()
  await page.context().clearCookies()
  await page.getByLabel('Taken by').fill('Mirja')
  await expect(page).toHaveURL(/sign-in/)
  await page.getByLabel('You sign in as').fill('ines')
  await page.getByLabel('Password').fill('gannet holm')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Handed out: Petri dish 90 mm')).toHaveValue(typed)
  await expect(page.getByLabel('Taken by')).toHaveValue('Mirja')
})

test('the Enter that ends a word of an input method chooses that word, and nothing else', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await go(page, 3, 'What is handed out')
  const cdp = await page.context().newCDPSession(page)
  const enter = async () => {
    const key = { key: 'Enter', code: 'Enter', windowsVirtualKeyCode: 13 }
    await cdp.send('Input.dispatchKeyEvent', { type: 'rawKeyDown', ...key })
    await cdp.send('Input.dispatchKeyEvent', { type: 'keyUp', ...key })
  }
  const compose = (text: string) =>
    cdp.send('Input.imeSetComposition', { text, selectionStart: text.length, selectionEnd: text.length })
  const field = page.getByLabel(/^For/)
  await field.fill('Seabird')
  await expect(page.getByRole('option', { name: /Seabird survey/ }).first()).toBeVisible()
  await compose(' surv')
  await enter()
  await expect(field).toHaveValue('Seabird surv')
  await expect(page.getByRole('option', { name: /Seabird survey/ }).first()).toBeVisible()
  await cdp.send('Input.insertText', { text: ' survey' })
  await enter()
  await expect(field).toHaveValue('Seabird survey')
  await expect(page.getByRole('option', { name: /Seabird survey/ })).toHaveCount(0)
  // The strip: what is being composed is no code yet.
  const strip = page.getByRole('combobox', { name: /Scan/ }).first()
  await strip.focus()
  await compose('nonesuch')
  await enter()
  await expect(strip).toHaveValue('nonesuch')
  await expect(page.getByText(/Nobody knows|knows this code/)).toHaveCount(0)
})

test('on an Apple keyboard what Alt writes in a field is written there; Ctrl and a digit lead to a work, as the help says', async ({
  page,
  demo,
}) => {
  await page.addInitScript(() => Object.defineProperty(navigator, 'platform', { get: () => 'MacIntel' }))
  await signIn(page, demo, 'ines', 'Wet lab')
  const cdp = await page.context().newCDPSession(page)
  /** As such a keyboard tells it: another character at the digit's place. */
  const hash = () =>
    cdp.send('Input.dispatchKeyEvent', { type: 'keyDown', key: '#', code: 'Digit3', text: '#', modifiers: 1 })
  /** Out of the field in which a screen begins, as soon as it is there. */
  const leaveField = async () => {
    const field = page.locator('main :is(input, select):focus')
    await field.waitFor()
    await field.blur()
  }
  const strip = page.getByLabel('Scan or search')
  await strip.focus()
  await hash()
  await expect(strip).toHaveValue('#')
  await strip.fill('')
  await page.keyboard.press('Control+5')
  await expect(page.getByRole('heading', { name: 'What is wasted', level: 1 })).toBeVisible()
  await leaveField()
  await hash()
  await expect(page.getByRole('heading', { name: 'What is handed out', level: 1 })).toBeVisible()
  await leaveField()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Ctrl + 1 … 0')
  // Tried at once: one is there, and not behind what tells of it.
  await page.keyboard.press('Control+5')
  await expect(page.getByRole('heading', { name: 'What is wasted', level: 1 })).toBeVisible()
})

test('no key alone does anything for whoever has switched that off, on each of their devices', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const keys = page.getByRole('dialog', { name: 'Keys' })
  const leave = () => page.evaluate(() => (document.activeElement as HTMLElement).blur())
  await leave()
  await page.keyboard.press('?')
  await keys.getByLabel('/ and ? work by themselves').uncheck()
  await expect(keys.getByRole('cell', { name: 'this help' })).toHaveCount(0)
  await keys.getByRole('button', { name: 'Close' }).click()
  await expect(page.locator('kbd')).toHaveCount(0)
  await leave()
  await page.keyboard.press('?')
  // What Alt begins stays.
  await page.keyboard.press('Alt+3')
  await expect(page.getByRole('heading', { name: 'What is handed out', level: 1 })).toBeVisible()
  await expect(keys).toHaveCount(0)

  const other = await (await browser.newContext()).newPage()
  const told = other.waitForResponse(r => r.url().endsWith('/api/preferences/single-keys'))
  await signIn(other, demo, 'ines')
  await told
  await expect(other.locator('kbd')).toHaveCount(0)
  await other.getByRole('button', { name: /Ines Corrie/ }).click()
  await other.getByRole('menuitem', { name: 'Keys of this screen' }).click()
  await other.getByLabel('/ and ? work by themselves').check()
  await expect(other.locator('kbd').first()).toBeVisible()
  await other.keyboard.press('Escape')
  await other.evaluate(() => (document.activeElement as HTMLElement).blur())
  await other.keyboard.press('?')
  await expect(other.getByLabel('/ and ? work by themselves')).toBeVisible()
})
