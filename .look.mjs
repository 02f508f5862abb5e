import { chromium } from '@playwright/test'
const [out, path, theme='light', w='1280', h='800', user='ines'] = process.argv.slice(2)
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-background-networking'] })
const p = await b.newPage({ viewport: { width: +w, height: +h }, colorScheme: theme })
await p.goto('http://localhost:4470/'); await p.getByLabel(/sign in as|name/i).first().fill(user).catch(()=>{})
await p.locator('input[type=password]').fill('gannet holm'); await p.keyboard.press('Enter'); await p.waitForTimeout(1500)
await p.goto('http://localhost:4470'+path); await p.waitForTimeout(2500)
await p.screenshot({ path: out }); await b.close()
