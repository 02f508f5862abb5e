import { readFileSync } from 'node:fs'
import { expect, go, heldBack, isFor, item, listenedTo, onHand, scan, signIn, test, type, verified } from './stage.ts'

test.beforeEach(async ({ page }) => void (await listenedTo(page)))

test('the server goes away while a slip is written: it says so, keeps everything, and books once', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  const before = await onHand(page, demo, 'GLV-M')
  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  await scan(page, gloves.codes[0]!)
  await page.route('**/api/**', r => r.abort())
  await page.getByLabel('Handed out: Nitrile gloves, medium').fill('3')
  await expect(page.getByText('Server away')).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(
    page.getByText('The server cannot be reached. What you typed is kept on this device.').first(),
  ).toBeVisible()
  await page.unroute('**/api/**')
  // Booked, but the answer is lost on the way: the screen hears that it is booked, and asks for the answer by itself.
  await page.route(
    '**/booking',
    async r => {
      await r.fetch()
      await r.abort()
    },
    { times: 1 },
  )
  await page.keyboard.press('Control+Enter')
  const booked = page.getByText(/IS-\d+ is booked/)
  await expect(booked).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(before - 3)
  // Beside the next one, which is empty, stands what was booked lately: that slip first.
  const number = /IS-\d+/.exec((await booked.textContent())!)![0]
  await expect(page.getByRole('heading', { name: 'Lately booked' })).toBeVisible()
  await expect(page.getByRole('link', { name: /^IS-\d+$/ }).first()).toHaveText(number)
})

test('a device that keeps nothing: one signs in, writes, is told where it is, and books as on any other', async ({
  browser,
  demo,
}) => {
  for (const refuses of ['full', 'closed'] as const) {
    const context = await browser.newContext()
    await context.addInitScript(refuses => {
      const no = () => {
        throw new DOMException('no room', refuses === 'full' ? 'QuotaExceededError' : 'SecurityError')
      }
      if (refuses === 'full') Storage.prototype.setItem = no
      else for (const of of ['localStorage', 'sessionStorage']) Object.defineProperty(window, of, { get: no })
    }, refuses)
    const page = await context.newPage()
    await listenedTo(page)
    await signIn(page, demo, 'ines', 'Wet lab')
    await expect(page.getByText('This device keeps nothing of what is typed')).toBeVisible()
    const before = await onHand(page, demo, 'GLV-M')
    await go(page, 3, 'What is handed out')
    await isFor(page, 'Nitrate run')
    await scan(page, (await item(page, demo, 'GLV-M')).codes[0]!)
    await expect(page.getByText(/saved \d\d:\d\d/)).toBeVisible()
    // The server away: the words are true, and the window asks before it goes.
    await page.route('**/api/**', r => r.abort())
    await page.getByLabel('Handed out: Nitrile gloves, medium').fill('2')
    await expect(
      page.getByText('this device keeps nothing: what you typed is in this window alone').first(),
    ).toBeVisible()
    const asks = () => page.evaluate(() => !window.dispatchEvent(new Event('beforeunload', { cancelable: true })))
    expect(await asks()).toBe(true)
    await page.unroute('**/api/**')
    await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('2')
    await page.keyboard.press('Control+Enter')
    await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
    expect(await asks()).toBe(false)
    expect(await onHand(page, demo, 'GLV-M')).toBe(before - 2)
    await context.close()
  }
})

test('Shelve is upgraded while a slip is written: the page loads itself anew where it was going, and nothing is lost', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await go(page, 3, 'What is handed out')
  await scan(page, (await item(page, demo, 'GLV-M')).codes[0]!)
  await page.getByLabel('Handed out: Nitrile gloves, medium').fill('2')
  // The part of the version before is not there any more; the page that knows of the new one finds its own.
  let loads = 0
  page.on('request', r => {
    if (r.isNavigationRequest()) loads++
  })
  await page.route('**/assets/CountView*.js', r => (loads ? r.continue() : r.fulfill({ status: 404 })))
  await page.keyboard.press('Alt+6')
  await expect(page.getByRole('heading', { name: 'Which area is counted?' })).toBeVisible()
  expect(loads).toBe(1)
  await go(page, 3, 'What is handed out')
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('2')
  // Where it is missing for good the page stands still and says so, and what is typed stays.
  await page.route('**/assets/RestockView*.js', r => r.fulfill({ status: 404 }))
  await page.keyboard.press('Alt+7')
  await expect(page.getByText('A part of this screen could not be loaded')).toBeVisible()
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('2')
})

test('the server goes away while the page itself comes: that is said, and the page comes by itself as soon as it answers', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const { rows } = (await (await page.request.get(`${demo.url}/api/items?q=GLV-M`)).json()) as {
    rows: { id: string }[]
  }
  const path = `/items/${rows[0]!.id}`
  for (const lost of [/\/assets\/index-.*\.js$/, /\/assets\/ItemView-.*\.js$/, /\/api\/(session|start)$/]) {
    const goes = (url: URL) => lost.test(url.pathname) || url.pathname === '/api/health'
    await page.route(goes, r => r.abort())
    await page.goto(demo.url + path)
    await expect(
      page.getByText('The server cannot be reached. Shelve opens by itself as soon as it answers.'),
    ).toBeVisible()
    await page.unroute(goes)
    // Still signed in, and there where it was going.
    await expect(page.getByRole('heading', { name: 'Nitrile gloves, medium', level: 1 })).toBeVisible()
    expect(new URL(page.url()).pathname).toBe(path)
  }
})

test('one draft in two windows: nobody overwrites the other in silence', async ({ page, context, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await go(page, 2, 'What arrived')
  await page.getByLabel('Supplier').fill('Quillfern')
  await scan(page, (await item(page, demo, 'GLV-M')).codes[0]!)
  await expect(page.getByText(/saved \d\d:\d\d/)).toBeVisible()
  const second = await context.newPage()
  await second.goto(`${demo.url}/receive`)
  await expect(second.getByLabel('Supplier')).toHaveValue('Quillfern')
  await second.getByLabel('Delivery note').fill('DN 7')
  await expect
    .poll(async () => {
      const d = (await (
        await second.request.get(`${demo.url}/api/slips?state=draft&kind=receipt&mine=yes`)
      ).json()) as { rows: { id: string }[] }
      return (
        (await (await second.request.get(`${demo.url}/api/slips/${d.rows[0]!.id}`)).json()) as {
          content: { head: { deliveryNote: string } }
        }
      ).content.head.deliveryNote
    })
    .toBe('DN 7')
  await expect(page.getByLabel('Delivery note'), 'the first window has it by itself').toHaveValue('DN 7')
  await page.getByLabel('Supplier').fill('Aster')
  await expect(second.getByLabel('Supplier')).toHaveValue('Aster')
  await page.reload()
  await expect(page.getByLabel('Delivery note')).toHaveValue('DN 7')
  await expect(page.getByLabel('Supplier')).toHaveValue('Aster')
})

test('the shelf is emptied by somebody else between looking and booking', async ({ page, browser, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  const all = await onHand(page, demo, 'GLV-M')
  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  await scan(page, gloves.codes[0]!)
  await page.getByLabel('Handed out: Nitrile gloves, medium').fill(String(all))
  await expect(page.getByText(`${all} → 0 box`)).toBeVisible()
  const other = await (await browser.newContext()).newPage()
  await signIn(other, demo, 'ruben', 'Wet lab')
  await go(other, 3, 'What is handed out')
  await isFor(other, 'Plankton plates')
  await scan(other, gloves.codes[0]!)
  await other.keyboard.press('Control+Enter')
  await expect(other.getByText(/IS-\d+ is booked/)).toBeVisible()
  await other.context().close()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('alert').first()).toContainText(`${all} box asked, ${all - 1} there`)
  await page.getByRole('button', { name: `Take the ${all - 1}` }).click()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  expect(await onHand(page, demo, 'GLV-M')).toBe(0)
})

test('a lot is held on its item’s page, refused at the counter, and given out by a manager with a reason', async ({
  page,
  browser,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const agar = await item(page, demo, 'AGR-M')
  await page.goto(`${demo.url}/items/${agar.id}`)
  await page.getByText('Where each lot lies, hold or recall one').click()
  const holds = page.getByRole('button', { name: 'Hold it' })
  for (let n = await holds.count(); n > 0; n--) {
    await holds.first().click()
    await page.getByLabel('Why', { exact: true }).fill('a plate was mouldy')
    await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
    await expect(holds).toHaveCount(n - 1)
  }
  const keeper = await (await browser.newContext()).newPage()
  await signIn(keeper, demo, 'ines', 'Wet lab')
  await go(keeper, 3, 'What is handed out')
  await isFor(keeper, 'Plankton plates')
  await scan(keeper, agar.codes[0]!)
  await keeper.keyboard.press('Control+Enter')
  await expect(keeper.getByRole('alert').first()).toContainText(/expired or held/)
  await keeper.context().close()

  await go(page, 3, 'What is handed out')
  await isFor(page, 'Plankton plates')
  await scan(page, agar.codes[0]!)
  await page.getByLabel('Lot of Agar plates, marine').selectOption({ index: 1 })
  await page.getByRole('button', { name: 'Another time, a note' }).click()
  await page.getByLabel('Reason for taking an expired or held lot').fill('only for practice')
  await page.getByText('take it all the same').click()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  expect(await verified(page, demo)).toEqual([])
})

test('lists save what they show; what is filtered is in the address; a slip is thrown away only when said so', async ({
  page,
  demo,
  browser,
}) => {
  await signIn(page, demo, 'tova', 'Galley')
  await page.goto(`${demo.url}/stock`)
  await page.getByLabel('Filter by state').selectOption('short')
  await expect(page).toHaveURL(/state=short/)
  await page.getByRole('button', { name: 'Available', exact: true }).click()
  await expect(page).toHaveURL(/sort=available/)
  await page.getByRole('button', { name: 'Save list' }).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'as CSV' }).click(),
  ])
  const csv = readFileSync(await download.path(), 'utf8')
    .trim()
    .split('\r\n')
  const total = Number(
    /^(\d+) item/.exec(
      await page
        .getByText(/^\d+ items?/)
        .first()
        .innerText(),
    )![1],
  )
  expect(csv.length - 1).toBe(total)
  expect(csv.slice(1).every(l => l.includes(',short,'))).toBe(true)
  await page.reload()
  await expect(page.getByLabel('Filter by state')).toHaveValue('short')
  // Columns and filters are a person's own, on every device.
  await page.getByRole('button', { name: 'Arrange' }).click()
  await page.getByLabel('Name for this filter').fill('short ones')
  await page.keyboard.press('Enter')
  await expect(page.getByText('“short ones” is kept.')).toBeVisible()
  await page.getByRole('checkbox', { name: 'Lasts' }).uncheck()
  await expect(page.getByRole('columnheader', { name: 'Lasts' })).toHaveCount(0)
  const device = await (await browser.newContext()).newPage()
  await signIn(device, demo, 'tova', 'Galley')
  await device.goto(`${demo.url}/stock`)
  await expect(device.getByRole('columnheader', { name: 'Available' })).toBeVisible()
  await expect(device.getByRole('columnheader', { name: 'Lasts' })).toHaveCount(0)
  await device.getByRole('button', { name: 'Arrange' }).click()
  await device.getByRole('button', { name: 'short ones', exact: true }).click()
  await expect(device).toHaveURL(/state=short.*sort=available|sort=available.*state=short/)
  await device.context().close()

  await go(page, 5, 'What is wasted')
  await page.getByRole('combobox', { name: /Scan or type/ }).focus()
  await type(page, 'milk')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Drop this draft' }).press('Enter')
  await page.keyboard.press('Escape')
  await expect(page.getByLabel('Wasted: Milk')).toBeVisible()
  await page.getByRole('button', { name: 'Drop this draft' }).press('Enter')
  await page.getByRole('button', { name: 'Drop it' }).press('Enter')
  await expect(page.getByLabel('Wasted: Milk')).toHaveCount(0)
})

test('what is typed before the names have come means, when they come, what it would have meant', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const come = await heldBack(page, '**/api/jobs', '**/api/index')
  await page.goto(`${demo.url}/issue`)
  // Left standing, and with Enter.
  await page.getByLabel(/^For/).fill('Nitrate run')
  await page.locator('[data-add] input').fill('GLV-M')
  await page.locator('[data-add] input').press('Enter')
  await page.getByLabel(/^For/).fill('Nitrate run')
  come()
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('1')
  // It is for the run: what is offered is what the run takes.
  await expect(page.getByRole('group', { name: 'Often written here' }).getByText('Silver nitrate 0.1 M')).toBeVisible()
  await page.getByLabel('Handed out: Nitrile gloves, medium').fill('2')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  await expect(page.getByText('to Nitrate run').first()).toBeVisible()

  const later = await heldBack(page, '**/api/jobs')
  await page.goto(`${demo.url}/issue`)
  await page.getByLabel(/^For/).fill('Nitr')
  await page.getByLabel(/^For/).press('Enter')
  later()
  await expect(page.getByLabel(/^For/)).toHaveValue('Nitrate run')
  // Names that come in the midst of a word are meant by it, and do not put themselves before its end.
  const midst = await heldBack(page, '**/api/jobs')
  await page.goto(`${demo.url}/issue`)
  await page.getByLabel(/^For/).focus()
  await page.keyboard.type('Nit', { delay: 60 })
  midst()
  await expect(page.getByRole('option', { name: 'Nitrate run' })).toBeVisible()
  await expect(page.getByRole('group', { name: 'Often written here' }).getByText('Silver nitrate 0.1 M')).toBeVisible()
  await page.keyboard.type('r')
  await expect(page.getByLabel(/^For/)).toHaveValue('Nitr')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel(/^For/)).toHaveValue('Nitrate run')
  // So is who is to be one of several, before anybody knows who that is.
  const several = await heldBack(page, '**/api/jobs')
  await page.goto(`${demo.url}/issue`)
  await page.getByLabel(/^For/).fill('Seabird survey')
  await page.getByLabel(/^For/).press('Enter')
  await page.getByRole('button', { name: 'For several' }).press('Enter')
  several()
  await expect(page.getByLabel('Part 1, for')).toHaveValue('Seabird survey')
  await expect(page.getByLabel('Part 2, for')).toHaveValue('')
  // The list of reasons takes letters that were typed before it was there.
  const last = await heldBack(page, '**/api/waste-reasons')
  await page.goto(`${demo.url}/waste`)
  await expect(page.getByLabel('Why, for all lines')).toBeFocused()
  await page.keyboard.type('Dam')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-add] input')).toBeFocused()
  last()
  await expect(page.getByLabel('Why, for all lines').locator('option:checked')).toHaveText('Damaged')
  // Whoever types on ahead of the items, field after field, has it all where it belongs.
  const items = await heldBack(page, '**/api/index')
  await page.goto(`${demo.url}/issue`)
  const box = page.locator('[data-add] input')
  await box.focus()
  for (const typed of ['GLV-M', '3', 'FLO-W']) {
    await page.keyboard.type(typed, { delay: 60 })
    await expect(box).toHaveValue(typed)
    await page.keyboard.press('Enter')
    await expect(box).toHaveValue('')
  }
  await page.keyboard.type('1.5', { delay: 60 })
  items()
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('3')
  await expect(page.getByLabel('Handed out: Wheat flour')).toHaveValue('1.5')
  await expect(page.getByLabel('Handed out: Wheat flour')).toBeFocused()
})

test('nothing fails in silence: who is still signed in is told so, and what was arranged and not kept', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const detail = 'The disk is full. Nothing was booked or changed.'
  await page.route('**/api/**', r =>
    r.request().method() === 'GET'
      ? r.fallback()
      : r.fulfill({
          status: 507,
          contentType: 'application/problem+json',
          json: { type: '', title: '', status: 507, code: 'disk_full', detail, fields: [] },
        }),
  )
  await page.getByRole('button', { name: 'Arrange' }).click()
  await page.getByLabel('Open differences', { exact: true }).press('Space')
  await expect(page.getByText(detail)).toBeVisible()
  await page.getByRole('button', { name: 'Done' }).click()
  await page.getByRole('button', { name: /Tova Brand/ }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  await expect(page.getByText(`You are still signed in here. ${detail}`)).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('what is waiting')
})

test('what cannot be read is said: it is no empty shelf, and nothing stands under another’s name', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const agar = await item(page, demo, 'AGR-M')
  const choose = (label: string) => page.getByLabel('Where I am working').selectOption({ label })
  const note = page.getByRole('alert').filter({ hasText: 'Not all of this page could be read.' })
  // By which path each reads itself, what it says of Wet lab, and what it would say where nothing is.
  for (const [at, asks, there, nothing] of [
    ['/', '**/api/today*', 'Count Wet lab', 'Nothing waits'],
    ['/stock', '**/api/stock*', 'Agar plates, marine', '0 items'],
    ['/restock/short', '**/api/short*', 'Membrane filter 0.45 µm', '0 lines'],
    ['/waste/expiring', '**/api/expiring*', 'Agar plates, marine', '0 lots'],
    ['/restock', '**/api/restock*', 'Membrane filter 0.45 µm', 'Nothing is on its way'],
    ['/count', '**/api/count-areas*', 'Wet lab', 'There is no area here'],
    [`/items/${agar.id}`, '**/movements*', 'Wet lab, B1 →', 'Nothing happened to it here yet'],
  ] as const) {
    await page.goto(demo.url + at)
    await choose('Wet lab')
    const main = page.locator('main')
    await expect(main.getByText(there).first()).toBeVisible()
    await page.route(asks, r => r.abort())
    await choose('Galley')
    await expect(note).toContainText('The server cannot be reached.')
    await expect(main.getByText(there)).toHaveCount(0)
    await expect(main.getByText(nothing)).toHaveCount(0)
    await page.unroute(asks)
    // Pressed where it is still there: it is read by itself, too, as soon as anything else is answered.
    await page.getByRole('button', { name: 'Read it again' }).evaluateAll((all: HTMLElement[]) => {
      for (const button of all) button.click()
    })
    await expect(note).toHaveCount(0)
    await expect(main.getByText(there)).toHaveCount(0)
  }
})

test('what is not there is the heading of its page, and a touch leads back to where such things are', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova')
  const id = '01993b9e-7d5a-7b1c-8a35-3a4b5c6d7e8f'
  const among: [of: string, heading: RegExp, back: string][] = [
    ['/slips', /slip/, '/ledger'],
    ['/transfers', /slip/, '/transfers'],
    ['/items', /item/, '/stock'],
    ['/lots', /lot/, '/lots'],
    ['/jobs', /job/, '/jobs'],
    ['/picks', /slip/, '/picks'],
    ['/templates', /template/, '/templates'],
    ['/restock', /restock slip/, '/restock'],
    ['/count/paper', /sheet/, '/count'],
  ]
  for (const [of, heading, back] of among) {
    // As by an address that somebody sent, without reading all the scripts again.
    await page.evaluate(to => {
      type App = Element & { __vue_app__: { config: { globalProperties: { $router: { push(to: string): void } } } } }
      ;(document.querySelector('#app') as App).__vue_app__.config.globalProperties.$router.push(to)
    }, `${of}/${id}`)
    const said = page.getByRole('heading', { level: 1 })
    await expect(said).toHaveText(new RegExp(`^There is no such ${heading.source}\\b`))
    await page
      .getByRole('main')
      .getByRole('link', { name: /^Back to/ })
      .click()
    await page.waitForURL(u => u.pathname === back)
    await expect(said).toBeVisible()
    await expect(said).not.toHaveText(/no such/)
  }
})
