// Answers that come late, or in another order than they were asked: what was meant is what stands.
import {
  countHere,
  expect,
  go,
  heldBack,
  isFor,
  item,
  listenedTo,
  NOW,
  onHand,
  placeOf,
  scan,
  signIn,
  test,
  type,
} from './stage.ts'

test.beforeEach(async ({ page }) => void (await listenedTo(page)))

test('whom it is for, typed before the names have come: nobody else is charged, whatever is pressed and scanned meanwhile', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  const come = await heldBack(page, '**/api/jobs')
  await page.goto(`${demo.url}/issue`)
  const whom = page.getByLabel(/^For/)
  await whom.fill('Seabird survey')
  // Whether it is a new one is not known yet.
  await expect(page.getByText('The names are on their way.')).toBeVisible()
  await expect(page.getByRole('option', { name: 'Seabird' })).toHaveCount(0)
  await whom.press('Enter')
  await whom.press('Enter')
  await scan(page, gloves.codes[0]!)
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('1')
  // Booked by whoever does not wait either, and has not left the box.
  await whom.focus()
  await page.keyboard.press('Control+Enter')
  come()
  await expect(page.getByText(/IS-\d+ is booked: 1 line to Seabird survey/)).toBeVisible()
})

test('what was scanned before the button is pressed stands on what it books, however late it is known what it is', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  const agar = await item(page, demo, 'AGR-M')
  const { rows } = (await (
    await page.request.get(`${demo.url}/api/items/${agar.id}/lots?place=${await placeOf(page, demo, 'Wet lab')}`)
  ).json()) as { rows: { code: string; state: string }[] }
  const lot = rows.find(l => l.state === 'usable' && l.code)!
  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  await scan(page, gloves.codes[0]!)
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('1')
  const come = await heldBack(page, '**/api/codes/**')
  await scan(page, `01${agar.codes[0]!.padStart(14, '0')}10${lot.code}`)
  await page.getByRole('button', { name: 'Book 1 line' }).click()
  come()
  await expect(page.getByText(/IS-\d+ is booked: 2 lines/)).toBeVisible()

  // A reason that was typed, too, and of the scan behind it no letter belongs to it.
  const reasons = await heldBack(page, '**/api/waste-reasons')
  await page.goto(`${demo.url}/waste`)
  await expect(page.getByLabel('Why, for all lines')).toBeFocused()
  await type(page, 'Damaged')
  await scan(page, gloves.codes[0]!, 60)
  await page.keyboard.press('Control+Enter')
  reasons()
  await expect(page.getByText(/WA-\d+ is booked: 1 line/)).toBeVisible()
  await page.getByRole('button', { name: 'Open it' }).click()
  await expect(page.getByText('Damaged').first()).toBeVisible()

  // Where it is not known what it is, it is asked first, and nothing is booked.
  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  await scan(page, gloves.codes[0]!)
  const unknown = await heldBack(page, '**/api/codes/**')
  await scan(page, '9529990000018')
  await page.keyboard.press('Control+Enter')
  unknown()
  await expect(page.getByRole('dialog')).toContainText('Nobody knows this code yet')
  await page.keyboard.press('Escape')
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('1')

  // Booked by its card: what is waited for is no looking up, and the next one is scanned onto the next slip.
  const booked = await heldBack(page, '**/booking')
  await scan(page, 'SVC-BOOK')
  await expect(page.getByPlaceholder(/^Doing what the card says/)).toBeVisible()
  await scan(page, gloves.codes[0]!)
  booked()
  await expect(page.getByText(/IS-\d+ is booked: 1 line/)).toBeVisible()
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('1')
})

test('what is typed or pressed after a scan that is still being looked up goes where that leads, and nowhere where it leads nowhere', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const agar = await item(page, demo, 'AGR-M')
  await go(page, 6, 'Which area is counted?')
  await page.getByLabel('with figures').press('Space')
  await countHere(page, 'Wet lab').press('Enter')
  await expect(page.getByText(/0 of \d+/)).toBeVisible()
  const first = await page.getByRole('textbox', { name: /^How many/ }).getAttribute('aria-label')
  // Two codes and what was counted of each, one after the other, quicker than any of them is known.
  const come = await heldBack(page, '**/api/codes/**')
  const odd = (n: number) => `01${agar.codes[0]!.padStart(14, '0')}1727033110NEW-${n}`
  await scan(page, odd(1))
  await expect(page.getByPlaceholder(/^Looking up …/)).toBeVisible()
  await type(page, '124')
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Enter')
  await scan(page, odd(2))
  await page.getByRole('button', { name: '7', exact: true }).click()
  await page.getByRole('button', { name: 'Next line' }).click()
  await expect(page.getByRole('textbox', { name: first! })).toHaveValue('')
  come()
  await expect(page.getByText(/2 of \d+/)).toBeVisible()
  await page.getByRole('button', { name: 'Review', exact: true }).click()
  const row = (lot: string) => page.getByRole('row').filter({ hasText: lot })
  await expect(row('NEW-1')).toContainText('12')
  await expect(row('NEW-2')).toContainText('7')
  await page.getByRole('button', { name: 'Line by line' }).click()
  const at = await page.getByRole('textbox', { name: /^How many/ }).getAttribute('aria-label')
  // Who does not want to wait leaves it, and what was typed with it.
  const left = await heldBack(page, '**/api/codes/**')
  await scan(page, odd(3))
  await type(page, '4')
  await page.keyboard.press('Escape')
  await expect(page.getByText('“4” is not written down')).toBeVisible()
  left()
  await type(page, '9')
  await expect(page.getByRole('textbox', { name: at! })).toHaveValue('9')
  await page.keyboard.press('Backspace')
  const never = await heldBack(page, '**/api/codes/**')
  await scan(page, '9529990000018')
  await type(page, '5')
  await page.keyboard.press('Enter')
  never()
  await expect(page.getByRole('dialog')).toContainText('Nobody knows this code yet')
  await expect(page.getByText('“5” is not written down')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('textbox', { name: at! })).toHaveValue('')
  await expect(page.getByText(/2 of \d+/)).toBeVisible()
})

test('what is scanned while a screen is still coming is used by that screen, and stays on what it wrote', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  // The areas of a count: the card of one begins its sheet.
  const { rows } = (await (await page.request.get(`${demo.url}/api/places`)).json()) as {
    rows: { name: string; own: string }[]
  }
  const areas = await heldBack(page, '**/api/count-areas**')
  await page.goto(`${demo.url}/count`)
  await expect(page.getByRole('heading', { name: 'Which area is counted?' })).toBeVisible()
  await scan(page, rows.find(p => p.name === 'Wet lab')!.own)
  areas()
  await expect(page.getByText(/0 of \d+/)).toBeVisible()
  // The sheet: its line is found, none is put beside it.
  const lines = /0 of (\d+)/.exec(await page.getByText(/0 of \d+/).innerText())![1]!
  const sheet = await heldBack(page, '**/api/slips/*/draft**')
  await page.reload()
  await expect(page.getByRole('button', { name: /Tova Brand/ })).toBeVisible()
  await scan(page, gloves.codes[0]!)
  sheet()
  await expect(page.getByRole('textbox', { name: 'How many: Nitrile gloves, medium' })).toBeVisible()
  await expect(page.getByText(`0 of ${lines}`)).toBeVisible()
  // An item that is changed: the code stands on it when it has come.
  const form = await heldBack(page, `**/api/items/${gloves.id}`)
  await page.goto(`${demo.url}/setup/items/${gloves.id}`)
  await expect(page.getByRole('button', { name: /Tova Brand/ })).toBeVisible()
  await scan(page, '9529990000018')
  form()
  await expect(page.getByLabel('Barcodes', { exact: false }).first()).toHaveValue(/9529990000018/)
})

test('what is scanned or typed while the page itself is still coming is not lost', async ({ page, demo }) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  /** A page of which so far only its first words are there. */
  const begun = async (path: string) => {
    const come = await heldBack(page, '**/assets/*.js')
    await page.goto(demo.url + path, { waitUntil: 'commit' })
    await expect.poll(() => page.evaluate(() => 'early' in globalThis)).toBe(true)
    return come
  }
  const whole = await begun('/issue')
  await scan(page, gloves.codes[0]!)
  whole()
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('1')
  await page.getByRole('button', { name: 'Drop this draft' }).click()
  await page.getByRole('button', { name: 'Drop it' }).click()
  // Keys of a hand stand where they are seen, and nothing is done with them.
  const typed = await begun('/issue')
  await type(page, 'gloves')
  typed()
  await expect(page.locator('#scan-strip')).toHaveValue('gloves')
  // Who signs in meanwhile is somebody else.
  await page.context().clearCookies()
  const signing = await begun('/issue')
  await scan(page, gloves.codes[0]!)
  signing()
  await expect(page.getByLabel('Password')).toBeVisible()
  await page.getByLabel('You sign in as').fill('ines')
  await page.getByLabel('Password').fill('gannet holm')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'What is handed out' })).toBeVisible()
  expect(await page.evaluate(() => (globalThis as { early?: unknown }).early)).toBeUndefined()
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveCount(0)
  // What notes the keys may come last of all: then it notes nothing.
  const last = await heldBack(page, '**/early.js')
  await page.goto(`${demo.url}/issue`, { waitUntil: 'commit' })
  await expect(page.getByRole('heading', { name: 'What is handed out' })).toBeVisible()
  const came = page.waitForResponse('**/early.js')
  last()
  await (await came).finished()
  await page.waitForLoadState('load')
  await scan(page, gloves.codes[0]!)
  await expect(page.getByLabel('Handed out: Nitrile gloves, medium')).toHaveValue('1')
  expect(await page.evaluate(() => (globalThis as { early?: unknown }).early)).toBeUndefined()
})

test('while another question is on its way what stands there stands back, and it is said', async ({ page, demo }) => {
  await signIn(page, demo, 'tova', 'Wet lab')
  await page.goto(`${demo.url}/stock`)
  const lines = page.getByRole('table').getByRole('presentation')
  await expect(page.getByText('Agar plates, marine')).toBeVisible()
  const come = await heldBack(page, '**/api/stock*')
  const here = page.getByLabel('Where I am working')
  await here.selectOption(
    await here.locator('option', { hasText: /^Galley/ }).evaluate(o => (o as HTMLOptionElement).value),
  )
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('What lies in Galley')
  await expect(page.getByText('Reading …')).toBeVisible()
  await expect(lines).toHaveCSS('opacity', '0.4')
  await expect(page.getByRole('main')).toHaveAttribute('aria-busy', 'true')
  come()
  await expect(page.getByText('Agar plates, marine')).toHaveCount(0)
  await expect(page.getByText('Reading …')).toHaveCount(0)
  await expect(lines).toHaveCSS('opacity', '1')
})

test('the main key pressed while a screen is still coming does what it does there; where nothing can be done it says why', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  await page.goto(`${demo.url}/jobs`)
  await page.getByRole('button', { name: 'New job' }).click()
  await page.getByRole('combobox', { name: 'By', exact: true }).selectOption({ label: 'Nitrate run, one station' })
  await page.getByRole('button', { name: 'Begin it' }).click()
  await expect(page.getByRole('button', { name: 'Hand out what is here' })).toBeVisible()
  // The job, then the slip that its key makes: each key comes before what it is about.
  const job = await heldBack(page, '**/api/jobs/*')
  await page.reload()
  await expect(page.getByRole('link', { name: 'Picking' })).toBeVisible()
  await page.keyboard.press('Control+Enter')
  job()
  await expect(page.getByRole('heading', { name: 'What is handed out', level: 1 })).toBeVisible()
  const slip = await heldBack(page, '**/api/slips/*/draft')
  await page.reload()
  await expect(page.getByRole('heading', { name: 'What is handed out', level: 1 })).toBeVisible()
  await page.keyboard.press('Control+Enter')
  slip()
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  // Pressed once more it covers nothing of what was said.
  await go(page, 3, 'What is handed out')
  await page.keyboard.press('Control+Enter')
  await expect(page.getByRole('button', { name: 'Take it back' })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('heading', { name: 'What is handed out', level: 1 })).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText('Nothing stands on this slip yet: scan or type what it is about.')).toBeVisible()
})

test('an answer is lost, and one presses again: a job is there once, what it takes stands on one slip, and the paper goes out once', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  /** The server does what it is asked next, and nobody hears of it; `lost` is kept when that is so. */
  async function unheard(path: string): Promise<{ lost: Promise<void> }> {
    let isLost!: () => void
    const lost = new Promise<void>(ok => (isLost = ok))
    await page.route(path, async r => {
      if (r.request().method() !== 'POST') return r.fallback()
      await r.fetch()
      await r.abort()
      await page.unroute(path)
      isLost()
    })
    return { lost }
  }
  const rows = async (path: string): Promise<{ name?: string; title?: string }[]> =>
    ((await (await page.request.get(demo.url + path)).json()) as { rows: [] }).rows

  await page.goto(`${demo.url}/jobs`)
  await page.getByRole('button', { name: 'New job' }).click()
  await page.getByRole('combobox', { name: 'By', exact: true }).selectOption({ label: 'Nitrate run, one station' })
  await page.getByLabel('What it is called').fill('Run by night')
  await unheard('**/api/jobs')
  await page.getByRole('button', { name: 'Begin it' }).click()
  await expect(page.getByText('The server cannot be reached. What you typed is kept on this device.')).toBeVisible()
  await page.getByRole('button', { name: 'Begin it' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Run by night')
  expect((await rows('/api/jobs/planned')).filter(j => j.name === 'Run by night')).toHaveLength(1)

  const drafts = async () => (await rows('/api/slips?state=draft&limit=200')).length
  const before = await drafts()
  const slip = await unheard('**/api/jobs/*/issue')
  await page.getByRole('button', { name: 'Hand out what is here' }).click()
  await slip.lost
  await page.getByRole('button', { name: 'Hand out what is here' }).click()
  await expect(page.getByRole('heading', { name: 'What is handed out', level: 1 })).toBeVisible()
  expect(await drafts()).toBe(before + 1)
  await page.keyboard.press('Control+Enter')
  await expect(page.getByText(/IS-\d+ is booked/)).toBeVisible()
  expect(await drafts()).toBe(before)

  // A letter that went out twice would be asked for twice. The screen has heard meanwhile that it went.
  await page.goto(`${demo.url}/restock`)
  await page.getByRole('button', { name: 'An empty slip' }).click()
  await page.locator('[data-add] input').fill('GLV-M')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Mail it' }).click()
  await page.getByLabel('Address').fill('orders@fallow.example')
  const letter = await unheard('**/mails')
  await page.keyboard.press('Enter')
  await letter.lost
  await expect(page.getByText(/^sent today/)).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(page.getByText('The letter to orders@fallow.example is on its way out.')).toBeVisible()
  expect(demo.mail.letters).toHaveLength(1)

  // Three of what was missing are found; they are back once.
  const gloves = await item(page, demo, 'GLV-M')
  const is = await onHand(page, demo, 'GLV-M')
  const place = await placeOf(page, demo, 'Wet lab')
  const [lies] = (await rows(`/api/items/${gloves.id}/lots?place=${place}`)) as { places: { place: string }[] }[]
  const typed = String(is - 7)
  const said = { counted: 'counted', typed, again: typed, countedAt: new Date(NOW).toISOString() }
  const line = { id: crypto.randomUUID(), item: gloves.id, from: lies!.places[0]!.place, ...said }
  const content = { kind: 'count', place, lines: [line] }
  const count = await page.request.post(`${demo.url}/api/slips/${crypto.randomUUID()}/booking`, {
    data: { content, seen: null },
  })
  expect(count.status(), await count.text()).toBe(201)
  await go(page, 6, 'Which area is counted?')
  const open = page.getByRole('listitem').filter({ hasText: 'Nitrile gloves, medium' })
  await open.getByRole('button', { name: 'Found again' }).click()
  await page.getByLabel('How many').fill('3')
  await unheard('**/booking')
  await page.getByRole('button', { name: 'Book it' }).click()
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText('cannot be reached')
  await page.getByRole('button', { name: 'Book it' }).click()
  await expect(page.getByText('Nitrile gloves, medium is back on the shelf')).toBeVisible()
  await expect(open).toContainText('−4 box')
  expect(await onHand(page, demo, 'GLV-M')).toBe(is - 4)
})
