// What is asked of a page as it stands in the window: all can be reached, heads stand over their columns, no words lie over others.
import type { Page } from '@playwright/test'

/** What cannot be reached where it stands: out of the window, or under something else. */
export const unreachable = (page: Page) =>
  page.evaluate(() => {
    const BAR = 24
    const out: string[] = []
    const named = (el: Element) =>
      `${el.tagName.toLowerCase()} ${(el.getAttribute('aria-label') ?? el.textContent ?? el.getAttribute('placeholder') ?? '').trim().slice(0, 40)}`
    const root = document.documentElement
    if (root.scrollWidth > root.clientWidth + 1)
      out.push(`the page is ${root.scrollWidth - root.clientWidth} px too wide`)
    // A few pixels too many are a bar in nobody's service; a wide table is moved sideways by itself where the window is narrow alone.
    for (const el of document.querySelectorAll('main :not(table), aside :not(table)')) {
      const over = el.scrollWidth - el.clientWidth
      if (over > 0 && (over < BAR || innerWidth >= 1024) && /auto|scroll/.test(getComputedStyle(el).overflowX))
        out.push(`${named(el)} has a bar for ${over} px`)
    }
    // What scrolls sideways by itself shows all that it holds.
    const scrolls = (el: Element | null): boolean =>
      el !== null &&
      el !== document.body &&
      (/auto|scroll/.test(getComputedStyle(el).overflowX) || scrolls(el.parentElement))
    for (const el of document.querySelectorAll(
      'main :is(a, button, input, select, textarea), header :is(a, button, input, select)',
    )) {
      const target = el as HTMLElement
      if (!target.checkVisibility({ visibilityProperty: true, opacityProperty: true })) continue
      // A telephone that draws nearer to small letters does not go back by itself (Safari's; from memory).
      if (matchMedia('(pointer: coarse) and (max-width: 600px)').matches && target.matches('input, select, textarea'))
        if (
          !/radio|checkbox/.test(target.getAttribute('type') ?? '') &&
          parseFloat(getComputedStyle(target).fontSize) < 16
        )
          out.push(`${named(target)} has letters of ${getComputedStyle(target).fontSize}`)
      target.scrollIntoView({ block: 'center', inline: 'nearest' })
      const r = target.getBoundingClientRect()
      if (r.width < 2 || r.height < 2) continue
      if (r.left < -1 || r.right > root.clientWidth + 1) {
        if (!scrolls(target)) out.push(`${named(target)} sticks out: ${Math.round(r.left)} to ${Math.round(r.right)}`)
        continue
      }
      const at = document.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2)
      const same = at && (target.contains(at) || at.contains(target) || at.closest('label')?.contains(target))
      if (!same && !scrolls(target)) out.push(`${named(target)} lies under ${at ? named(at) : 'nothing'}`)
    }
    window.scrollTo(0, 0)
    return [...new Set(out)]
  })

/**
 * Columns whose head does not stand over them: either they begin where it begins, or the longest of them ends where it ends
 * (shorter figures stand on the decimal point), or both have one middle.
 */
export const besideTheirHead = (page: Page) =>
  page.evaluate(() => {
    const out: string[] = []
    /** From where to where something is seen, pictures and buttons with it. */
    const edges = (el: Element) => {
      const rects: DOMRect[] = []
      const walker = document.createTreeWalker(el, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT)
      while (walker.nextNode()) {
        const at = walker.currentNode
        const of = at instanceof Element ? at : at.parentElement!
        if (of.closest('.sr-only') || !of.checkVisibility({ visibilityProperty: true, opacityProperty: true })) continue
        if (at instanceof Element) {
          // A quiet button is seen by its words alone.
          const framed = at.matches('.btn') && !/, 0\)$|transparent/.test(getComputedStyle(at).borderTopColor)
          if (framed || at.matches('svg, input, select')) rects.push(at.getBoundingClientRect())
        } else if (at.textContent!.trim()) {
          const range = document.createRange()
          range.selectNodeContents(at)
          rects.push(...range.getClientRects())
        }
      }
      const seen = rects.filter(r => r.width > 1)
      return seen.length
        ? { left: Math.min(...seen.map(r => r.left)), right: Math.max(...seen.map(r => r.right)) }
        : undefined
    }
    for (const table of document.querySelectorAll('main table')) {
      const columns: { head: string; at: ReturnType<typeof edges>; cells: HTMLTableCellElement[] }[] = []
      for (const th of table.querySelectorAll<HTMLTableCellElement>('thead tr:last-child > *'))
        for (let n = 0; n < th.colSpan; n++)
          columns.push({ head: th.textContent!.trim(), at: n ? undefined : edges(th), cells: [] })
      for (const row of table.querySelectorAll('tbody tr')) {
        let at = 0
        for (const td of row.children as Iterable<HTMLTableCellElement>) {
          if (td.colSpan === 1) columns[at]?.cells.push(td)
          at += td.colSpan
        }
      }
      for (const { head, at, cells } of columns) {
        const shown = cells.flatMap(td => edges(td) ?? [])
        if (!at || !shown.length) continue
        const [left, right] = [Math.min(...shown.map(c => c.left)), Math.max(...shown.map(c => c.right))]
        const off = [left - at.left, right - at.right, (left + right - at.left - at.right) / 2]
          .map(Math.abs)
          .reduce((x, y) => Math.min(x, y))
        if (off > 3) out.push(`what stands under “${head}” is ${Math.round(off)} px beside it`)
      }
    }
    return out
  })

/**
 * Words that lie over other words, that end where nothing says so, or that stand outside of the window. What stays where it is
 * while the page moves lies over it by intent.
 */
export const overEachOther = (page: Page) =>
  page.evaluate(() => {
    const out: string[] = []
    interface Words {
      readonly text: string
      readonly of: Element
      readonly at: DOMRect
    }
    const above = function* (el: Element | null) {
      for (let at = el; at; at = at.parentElement) yield at
    }
    const seen: Words[] = []
    const width = document.documentElement.clientWidth
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
    while (walker.nextNode()) {
      const node = walker.currentNode
      const of = node.parentElement!
      const text = node.textContent!.trim().slice(0, 40)
      if (!text || of.closest('.sr-only, option, th, [role=columnheader]')) continue
      if (!of.checkVisibility({ visibilityProperty: true, opacityProperty: true })) continue
      let [left, right, top, bottom, stays] = [-Infinity, Infinity, -Infinity, Infinity, false]
      for (const box of above(of)) {
        const style = getComputedStyle(box)
        stays ||= /sticky|fixed/.test(style.position)
        if (style.overflowX === 'visible') continue
        const b = box.getBoundingClientRect()
        ;[left, right] = [Math.max(left, b.left), Math.min(right, b.right)]
        ;[top, bottom] = [Math.max(top, b.top), Math.min(bottom, b.bottom)]
        const hides = /hidden|clip/.test(style.overflowX) && box.scrollWidth > box.clientWidth + 1
        if (hides && style.textOverflow !== 'ellipsis' && style.webkitLineClamp === 'none') out.push(`“${text}” is cut`)
      }
      if (stays) continue
      const range = document.createRange()
      range.selectNodeContents(node)
      for (const r of range.getClientRects()) {
        if (r.right > width + 1 && right > width + 1) out.push(`“${text}” stands outside of the window`)
        const [l, t] = [Math.max(r.left, left), Math.max(r.top, top)]
        const at = new DOMRect(l, t, Math.min(r.right, right) - l, Math.min(r.bottom, bottom) - t)
        if (at.width > 1 && at.height > 1) seen.push({ text, of, at })
      }
    }
    seen.sort((a, b) => a.at.top - b.at.top)
    for (const [i, a] of seen.entries())
      for (let n = i + 1; n < seen.length && seen[n]!.at.top < a.at.bottom - 3; n++) {
        const b = seen[n]!
        const across = Math.min(a.at.right, b.at.right) - Math.max(a.at.left, b.at.left)
        const down = Math.min(a.at.bottom, b.at.bottom) - b.at.top
        if (a.of !== b.of && across > 3 && down > 5) out.push(`“${a.text}” and “${b.text}” lie over each other`)
      }
    return [...new Set(out)]
  })
