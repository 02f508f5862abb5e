import { createServer, type Server } from 'node:http'
import { asDer, toRecognise } from './certificates.ts'

const safe = (text: string) => text.replace(/[&<>"]/g, c => `&#${c.charCodeAt(0)};`)

/**
 * The plain door beside the secure one: it shows a tablet how to trust this server, hands out the authority's
 * certificate, and leads everything else to where it is secure. It knows nothing of the stock.
 */
export function doorway(authority: string, organisation: () => string, securePort: number): Server {
  const { fingerprint, until } = toRecognise(authority)
  return createServer((request, response) => {
    const host = (request.headers.host ?? 'localhost').replace(/:\d+$/, '')
    const secure = `https://${/^[\w.:[\]-]+$/.test(host) ? host : 'localhost'}${securePort === 443 ? '' : `:${securePort}`}`
    response.setHeader('x-content-type-options', 'nosniff')
    if (request.url === '/authority.crt') {
      response
        .writeHead(200, {
          'content-type': 'application/x-x509-ca-cert',
          'content-disposition': 'attachment; filename="shelve-authority.crt"',
        })
        .end(asDer(authority))
      return
    }
    if (request.url !== '/' && request.url !== '/tablet') {
      response
        .writeHead(307, { location: `${secure}${/^\/[\w/?=&.%-]*$/.test(request.url ?? '') ? request.url : '/'}` })
        .end()
      return
    }
    response.writeHead(200, {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'",
    }).end(`<!doctype html><html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width,initial-scale=1"><title>Trust this server</title><style>
body{font:18px/1.55 "Atkinson Hyperlegible Next",system-ui,sans-serif;color:#1d2b30;background:#f5f2eb;
margin:0 auto;max-width:46rem;padding:1.2rem}
h1{font-size:1.5rem}
h2{font-size:1.1rem;margin-top:1.6rem}
a.act{display:inline-block;background:#14564f;color:#fff;padding:.8rem 1.2rem;border-radius:6px;
text-decoration:none;font-weight:700;margin:.4rem .6rem .4rem 0}
a.next{color:#14564f;background:#fff;border:1px solid #86816f}
code{word-break:break-all;font-size:.85em}
li{margin:.35rem 0}
</style></head><body>
<h1>${safe(organisation())}: let this tablet trust Shelve</h1>
<p>Once for each tablet. Without it the browser gives no camera and keeps nothing while the network is away.</p>
<p><a class="act" href="/authority.crt">1. Fetch the certificate</a> <a class="act next" href="${safe(secure)}/">3. Open Shelve</a></p>
<h2>2. Install it</h2><ul>
<li><b>Android</b>: Settings, search for <i>CA certificate</i>, install it from the downloads.</li>
<li><b>iPad</b>: Settings, <i>Profile downloaded</i>, install; then General, About, <i>Certificate Trust Settings</i>,
switch it on.</li>
<li><b>A computer</b>: open the file and put it among the <i>trusted root authorities</i>; Firefox has a list of its own
under Settings, Certificates.</li></ul>
<h2>Is it the right one?</h2>
<p>Compare this with what stands under Set-up, Tablets, on a device that is signed in already:</p>
<p><code>${safe(fingerprint)}</code><br>It is valid until ${safe(until)}.</p></body></html>`)
  })
}
