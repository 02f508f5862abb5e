// Which Chromium drives the browser tests, the pictures and the bench: Debian's smaller build without a window, which starts
// sooner and draws with less work, or where a Debian has none of it, the whole browser.
import { existsSync } from 'node:fs'
import { debian } from './setup.mjs'

const SMALL = '/usr/bin/chromium-headless-shell'
const WHOLE = '/usr/bin/chromium'

export const chromiumFile = () => (existsSync(SMALL) ? SMALL : WHOLE)

/** Installs one of them where none is there; names what could not be installed. */
export function withChromium() {
  if (existsSync(SMALL) || !debian([['chromium-headless-shell', SMALL]]).length) return []
  return debian([['chromium', WHOLE]])
}
