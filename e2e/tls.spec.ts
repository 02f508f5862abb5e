import { createHash, X509Certificate } from 'node:crypto'
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createCanvas, loadImage } from '@napi-rs/canvas'
import bwip from 'bwip-js/node'
import { chromium } from '@playwright/test'
import { expect, MADE, start, test } from './stage.ts'
import { chromiumFile } from '../tools/chromium.mjs'

/** Pictures one after the other, as a camera gives them: a shelf without anything, then a symbol, then nothing again. */
async function film(file: string, code: string): Promise<void> {
  const symbol = await loadImage(
    await bwip.toBuffer({
      bcid: 'ean13',
      text: code,
      scale: 4,
      height: 22,
      includetext: true,
      backgroundcolor: 'FFFFFF',
      padding: 8,
    }),
  )
  const frame = (shown: boolean) => {
    const c = createCanvas(640, 480)
    const g = c.getContext('2d')
    g.fillStyle = '#8a8578'
    g.fillRect(0, 0, 640, 480)
    if (shown) g.drawImage(symbol, (640 - symbol.width) / 2, (480 - symbol.height) / 2)
    return c.toBuffer('image/jpeg', 90)
  }
  writeFileSync(
    file,
    Buffer.concat([
      ...Array.from({ length: 20 }, () => frame(false)),
      ...Array.from({ length: 200 }, () => frame(true)),
    ]),
  )
}

test('a tablet in the network: over TLS under its own name it is secure, can be installed, and its camera reads a box onto the slip', async () => {
  const data = mkdtempSync(join(tmpdir(), 'shelve-tls-'))
  cpSync(MADE, data, { recursive: true })
  const { stage, child, plainPort } = await start(data, true, {
    SHELVE_TLS: 'own',
    SHELVE_NAMES: 'shelve.test',
    SHELVE_PLAIN_PORT: '0',
  })
  const port = new URL(stage.url).port
  const url = `https://shelve.test:${port}`
  const certificate = new X509Certificate(readFileSync(join(data, 'tls', 'server.crt')))
  const key = createHash('sha256')
    .update(certificate.publicKey.export({ type: 'spki', format: 'der' }))
    .digest('base64')
  const shelf = join(data, 'camera.mjpeg')
  const first = await chromium.launch({
    executablePath: chromiumFile(),
    args: [
      '--no-sandbox',
      '--host-resolver-rules=MAP shelve.test 127.0.0.1',
      `--ignore-certificate-errors-spki-list=${key}`,
    ],
  })
  const looked = await first.newPage()
  await looked.goto(`http://shelve.test:${plainPort}/`)
  await expect(looked.getByRole('heading', { level: 1 })).toHaveText(
    'Gannet Holm Field Station: let this tablet trust Shelve',
  )
  await looked.getByRole('link', { name: '3. Open Shelve' }).click()
  await looked.getByLabel('You sign in as').fill('tova')
  await looked.getByLabel('Password').fill('gannet holm')
  await looked.keyboard.press('Enter')
  await looked.waitForURL(u => u.pathname === '/')
  expect(looked.url()).toBe(`${url}/`)
  expect(await looked.evaluate(() => window.isSecureContext)).toBe(true)
  expect((await looked.context().cookies()).map(c => [c.name, c.secure, c.httpOnly, c.sameSite])).toEqual([
    ['__Host-shelve', true, true, 'Strict'],
  ])
  const manifest = (await looked.evaluate(async () => (await fetch('/manifest.webmanifest')).json())) as {
    display: string
    icons: { src: string }[]
  }
  expect(manifest.display).toBe('standalone')
  for (const i of manifest.icons)
    expect(
      await looked.evaluate(async src => {
        const r = await fetch(src)
        return [r.status, r.headers.get('content-type')]
      }, i.src),
    ).toEqual([200, 'image/png'])
  await looked.goto(`${url}/setup/tablets`)
  await expect(looked.getByText(`https://shelve.test:${port}`)).toBeVisible()
  await expect(
    looked.getByText(new X509Certificate(readFileSync(join(data, 'tls', 'authority.crt'))).fingerprint256),
  ).toBeVisible()
  const found = await looked.evaluate(
    async () =>
      (await (await fetch('/api/items?q=FLO-B')).json()) as { rows: { code: string; name: string; codes: string[] }[] },
  )
  const bread = found.rows.find(r => r.code === 'FLO-B')!
  const ean = bread.codes.find(c => /^\d{13,14}$/.test(c))!.slice(-13)
  await first.close()

  await film(shelf, ean)
  const second = await chromium.launch({
    executablePath: chromiumFile(),
    args: [
      '--no-sandbox',
      '--host-resolver-rules=MAP shelve.test 127.0.0.1',
      `--ignore-certificate-errors-spki-list=${key}`,
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-video-capture=${shelf}`,
    ],
  })
  const tablet = await (await second.newContext({ viewport: { width: 800, height: 1280 }, hasTouch: true })).newPage()
  await tablet.goto(`${url}/sign-in?to=/issue`)
  await tablet.getByLabel('You sign in as').fill('ines')
  await tablet.getByLabel('Password').fill('gannet holm')
  await tablet.keyboard.press('Enter')
  await expect(tablet.getByRole('heading', { level: 1 })).toHaveText('What is handed out')
  await tablet.getByLabel('Where I am working').selectOption({ label: 'Galley' })
  await tablet.getByRole('button', { name: 'Scan with the camera' }).tap()
  await expect(tablet.getByText(`Read ${ean}`), 'the camera reads it').toBeVisible()
  await tablet.getByRole('button', { name: 'Done' }).tap()
  const line = tablet.getByLabel(`Handed out: ${bread.name}`)
  await expect(line).toHaveValue('1')
  await second.close()
  const ended = new Promise(done => child.once('exit', done))
  child.kill('SIGTERM')
  await ended
  await stage.mail.stop()
  rmSync(data, { recursive: true, force: true })
})
