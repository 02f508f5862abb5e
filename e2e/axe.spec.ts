import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { expect, item, signIn, test, type Stage } from './stage.ts'

/** WCAG 2.2 A and AA by axe, on every view: once light on a desk, once dark on a tablet. */
async function views(page: Page, demo: Stage): Promise<string[]> {
  const gloves = await item(page, demo, 'GLV-M')
  const slips = ((await (await page.request.get(`${demo.url}/api/slips?limit=1&kind=receipt`)).json()) as { rows: { id: string }[] }).rows
  const area = ((await (await page.request.get(`${demo.url}/api/count-areas`)).json()) as { rows: { id: string; name: string }[] }).rows.find(a => a.name === 'Seal hide')!
  return ['/', '/waste/expiring', '/me', '/restock/short', '/look-back', '/look-back/by', '/look-back/day', '/look-back/who', '/look-back/close', '/stock', '/receive', '/issue', '/bring-back', '/move', '/waste', '/count', '/restock', '/ledger', `/items/${gloves.id}`, `/slips/${slips[0]!.id}`, '/setup/items', '/setup/items/new', `/setup/items/${gloves.id}`, '/setup/categories', '/setup/places', '/setup/lists', '/setup/cards', '/setup/people', '/setup/accounts', '/setup/tablets', '/look-back/accounts', `/labels?item=${gloves.id}`, `/count/print?areas=${area.id}`, '/setup/organisation', '/begin']
}
async function check(page: Page, where: string): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze()
  expect(violations.map(v => `${where}: ${v.id}: ${v.nodes.map(n => n.target.join(' ')).slice(0, 3).join(' | ')}`)).toEqual([])
}

for (const [theme, device, size] of [['light', 'desk', { width: 1280, height: 800 }], ['dark', 'tablet', { width: 800, height: 1280 }]] as const) {
  test(`every view is accessible: ${theme}, ${device}`, async ({ browser, demo }) => {
    test.setTimeout(200_000)
    const page = await (await browser.newContext({ colorScheme: theme, viewport: size, hasTouch: device === 'tablet' })).newPage()
    await page.goto(`${demo.url}/sign-in`)
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
    await check(page, 'sign-in')
    await signIn(page, demo, 'tova', 'Galley')
    for (const path of await views(page, demo)) {
      await page.goto(demo.url + path)
      await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible()
      await page.waitForTimeout(250)
      await check(page, path)
      const wide = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)
      expect(wide, `${path} is not wider than the screen`).toBeLessThanOrEqual(0)
      if (device === 'desk') {
        await page.setViewportSize({ width: 1024, height: 768 })
        await expect.poll(() => page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth), `${path} is not wider than a tablet lying on its side`).toBeLessThanOrEqual(0)
        await page.setViewportSize(size)
      }
    }
    await page.goto(`${demo.url}/count`)
    await page.getByRole('button', { name: 'Count it here' }).first().click()
    const sure = page.getByRole('button', { name: 'Count all the same' })
    await expect(page.locator('.sheet').or(sure)).toBeVisible()
    if (await sure.isVisible()) await sure.click()
    await expect(page.locator('.sheet')).toBeVisible()
    await check(page, 'sheet')
    await page.getByRole('button', { name: 'Grid' }).click()
    await check(page, 'grid')
    await page.context().close()
  })
}
