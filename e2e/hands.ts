import type { Locator, Page } from '@playwright/test'
import { expect, scan } from './stage.ts'

export type How = 'mouse' | 'keyboard' | 'scanner'
/** By task, how many actions were taken by each way of working; the goal beside. */
export const counted = new Map<string, Partial<Record<How, number>>>()

/** One pair of hands, whose every action counts. */
export class Hands {
  n = 0
  constructor(readonly page: Page) {}
  async click(what: Locator) {
    this.n++
    await what.click()
  }
  async field(what: Locator, text: string) {
    this.n++
    await what.fill(text)
  }
  /** Types into whatever has the focus, as the keyboard does: one field. */
  async type(text: string) {
    this.n++
    await this.page.keyboard.type(text, { delay: 60 })
  }
  async key(key: string) {
    this.n++
    await this.page.keyboard.press(key)
  }
  async scan(code: string) {
    this.n++
    await scan(this.page, code)
  }
  async choose(what: Locator, label: string) {
    this.n++
    await what.selectOption({ label })
  }
}
export const goals: Record<string, Partial<Record<How, number>>> = {
  'a delivery of six lines, two of them with lots': { mouse: 20, keyboard: 32, scanner: 12 },
  'the same, one of them in two lots': { mouse: 24, keyboard: 38, scanner: 14 },
  'an issue of three things': { mouse: 8, keyboard: 14, scanner: 6 },
  'a move of four things': { mouse: 10, keyboard: 18, scanner: 8 },
  'one broken thing': { mouse: 4, keyboard: 6, scanner: 3 },
  'a count of forty, three off, with figures': { mouse: 12 },
  'six prices that came late': { mouse: 9 },
  'a wrong item put right': { mouse: 5 },
  'part of an issue brought back': { mouse: 4, keyboard: 9, scanner: 4 },
  'what was missing is found': { mouse: 3, keyboard: 6, scanner: 3 },
  'last month by category': { mouse: 3 },
  'what lay there at the month’s end, by category': { mouse: 3 },
  'sheets for two areas': { mouse: 5, keyboard: 12 },
  'all that is proposed of one supplier asked for': { mouse: 4, keyboard: 12 },
  'an item with two packs, three barcodes and its levels': { mouse: 16, keyboard: 40 },
}
/** Counts a task done one way, and holds it against its goal. */
export const took = (task: string, how: How, hands: Hands) => {
  counted.set(task, { ...counted.get(task), [how]: hands.n })
  expect(hands.n, `${task}, by ${how}`).toBeLessThanOrEqual(goals[task]?.[how] ?? Infinity)
  hands.n = 0
}
/** What is said once something is booked. */
export const booked = (page: Page, what: RegExp) => expect(page.getByText(what).first()).toBeVisible()
export const today = async (page: Page, url: string) => {
  await page.goto(url)
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
}
