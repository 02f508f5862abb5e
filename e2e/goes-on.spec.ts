// Who goes on before the answer has come: they stay where they went, what they left is done to that, and is told.
import { countHere, expect, go, heldBack, isFor, item, listenedTo, scan, signIn, test, type } from './stage.ts'

test.beforeEach(async ({ page }) => void (await listenedTo(page)))

test('who goes on to something else before the answer has come stays there, and is told what became of what they left', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const gloves = await item(page, demo, 'GLV-M')
  const arrived = page.getByLabel('Arrived: Nitrile gloves, medium')
  const drafts = async () =>
    ((await (await page.request.get(`${demo.url}/api/slips?state=draft&limit=200`)).json()) as { rows: [] }).rows.length
  // A count, its key pressed twice.
  await go(page, 6, 'Which area is counted?')
  await page.getByLabel('with figures').press('Space')
  await countHere(page, 'Wet lab').press('Enter')
  await page.getByRole('button', { name: /are as expected$/ }).click()
  const counted = await heldBack(page, '**/booking')
  await page.keyboard.press('Control+Enter')
  await page.keyboard.press('Control+Enter')
  await go(page, 2, 'What arrived')
  counted()
  await expect(page.getByText(/CT-\d+ is booked: count of Wet lab/)).toBeVisible()
  await scan(page, gloves.codes[0]!)
  await expect(arrived).toHaveValue('1')

  // What to ask for: it is written, and one is not led there.
  await go(page, 7, 'What to ask for in Wet lab')
  const written = await heldBack(page, '**/api/restock')
  const answer = page.waitForResponse(r => r.url().endsWith('/api/restock') && r.request().method() === 'POST')
  await page.getByRole('button', { name: 'An empty slip' }).click()
  await go(page, 2, 'What arrived')
  written()
  await (await answer).finished()
  await scan(page, gloves.codes[0]!)
  await expect(arrived).toHaveValue('2')

  // More than is there is refused; that is said though the slip is not on the screen any more.
  await go(page, 3, 'What is handed out')
  await isFor(page, 'Nitrate run')
  await scan(page, gloves.codes[0]!)
  await page.getByLabel('Handed out: Nitrile gloves, medium').press('Control+a')
  await type(page, '99999')
  await expect(page.getByText(/saved \d\d:\d\d/)).toBeVisible()
  const booked = await heldBack(page, '**/booking')
  await page.keyboard.press('Control+Enter')
  await go(page, 2, 'What arrived')
  booked()
  await expect(page.getByText('The slip you left is not booked. It lies among the drafts')).toBeVisible()
  await scan(page, gloves.codes[0]!)
  await expect(arrived).toHaveValue('3')

  // What is scanned before another work is chosen stands on what one leaves: by its key, and by its tab.
  const before = await drafts()
  await go(page, 5, 'What is wasted')
  for (const leaves of [
    () => page.keyboard.press('Alt+5'),
    () => page.getByRole('link', { name: 'Waste', exact: true }).first().click(),
    () => page.evaluate(() => history.back()),
  ]) {
    await go(page, 2, 'What arrived')
    await expect(arrived).toBeVisible()
    const known = await heldBack(page, '**/api/codes/**')
    await scan(page, gloves.codes[0]!)
    await leaves()
    await expect(page.getByPlaceholder(/^Looking up …/)).toBeVisible()
    await expect(page.getByRole('heading', { name: 'What arrived', level: 1 })).toBeVisible()
    known()
    await expect(page.getByRole('heading', { name: 'What is wasted', level: 1 })).toBeVisible()
  }
  await go(page, 2, 'What arrived')
  await expect(arrived).toHaveValue('6')
  expect(await drafts()).toBe(before)
  // A code that nobody knows is asked about, there.
  const unknown = await heldBack(page, '**/api/codes/**')
  await scan(page, '9529990000018')
  await page.keyboard.press('Alt+5')
  unknown()
  await expect(page.getByRole('dialog')).toContainText('Nobody knows this code yet')
  await page.keyboard.press('Escape')
  await expect(arrived).toHaveValue('6')
  // Also where they go back: they are where they were, as is the address.
  const again = await heldBack(page, '**/api/codes/**')
  await scan(page, '9529990000018')
  await page.evaluate(() => history.back())
  await expect(page.getByPlaceholder(/^Looking up …/)).toBeVisible()
  again()
  await expect(page.getByRole('dialog')).toContainText('Nobody knows this code yet')
  await page.keyboard.press('Escape')
  await expect(page).toHaveURL(/\/receive/)
  await scan(page, gloves.codes[0]!)
  await expect(arrived).toHaveValue('7')

  // Who does not want to wait for it chooses the work once more.
  const never = await heldBack(page, '**/api/codes/**')
  await scan(page, gloves.codes[0]!)
  await page.keyboard.press('Alt+5')
  await expect(page.getByText('What was scanned is still being looked up.')).toBeVisible()
  await page.keyboard.press('Alt+5')
  await expect(page.getByRole('heading', { name: 'What is wasted', level: 1 })).toBeVisible()
  await expect(page.getByText('was not looked up to the end. Scan it once more.')).toBeVisible()
  await page.unrouteAll({ behavior: 'ignoreErrors' })
  never()

  // Whom it is for, typed before the names have come, stands on what one leaves, too.
  const names = await heldBack(page, '**/api/jobs')
  await page.goto(`${demo.url}/issue`)
  await page.getByLabel(/^For/).fill('Seabird survey')
  await page.keyboard.press('Alt+2')
  names()
  await expect(page.getByRole('heading', { name: 'What arrived', level: 1 })).toBeVisible()
  await go(page, 3, 'What is handed out')
  await expect(page.getByLabel(/^For/)).toHaveValue('Seabird survey')
})

test('what is pressed on one job is done to that one, though another stands there by then; what is refused is told there', async ({
  page,
  demo,
}) => {
  await signIn(page, demo, 'ines', 'Wet lab')
  const planned = async () =>
    (
      (await (await page.request.get(`${demo.url}/api/jobs/planned`)).json()) as {
        rows: { id: string; name: string }[]
      }
    ).rows
  const [done, other] = (await planned()).filter(j => /^(Rinsing|Water sampling)/.test(j.name))
  const to = (name: string) => page.getByRole('heading', { level: 1, name })
  const search = async (name: string) => {
    await page.getByRole('combobox', { name: 'Scan or search' }).fill(name)
    await page.getByRole('listbox').getByRole('option', { name }).first().click()
    await expect(to(name)).toBeVisible()
  }
  await page.goto(`${demo.url}/jobs/${done!.id}`)
  await expect(to(done!.name)).toBeVisible()
  const saved = await heldBack(page, `**/api/jobs/${done!.id}`)
  await page.getByLabel('For how much').fill('3')
  await page.getByRole('button', { name: 'It is done' }).click()
  await search(other!.name)
  saved()
  await expect(page.getByText(`${done!.name} is done.`)).toBeVisible()
  expect((await planned()).map(j => j.id)).not.toContain(done!.id)
  expect((await planned()).map(j => j.id)).toContain(other!.id)
  await expect(page.getByRole('button', { name: 'It is done' })).toBeVisible()

  // What is refused is told, wherever one is by then.
  let refuse!: () => void
  const told = new Promise<void>(ok => (refuse = ok))
  await page.route('**/state', async r => {
    await told
    const detail = 'It was put together with another job.'
    await r.fulfill({ status: 409, json: { type: '', title: '', status: 409, code: 'over', detail, fields: [] } })
  })
  await page.getByRole('button', { name: 'It is in work' }).click()
  await go(page, 3, 'What is handed out')
  refuse()
  await expect(page.getByText('It was put together with another job.')).toBeVisible()
})
