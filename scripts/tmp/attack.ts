import net from 'node:net'
import { openWorkbench } from '../workbench.js'
import { loadDemo } from '../demo/load.js'
const w = await openWorkbench('attack')
const id = await loadDemo(w.url)
const port = Number(new URL(w.url).port)
const raw = (text: string, wait = 1500): Promise<string> => new Promise((resolve) => {
  const s = net.connect(port, '127.0.0.1'); let out = ''
  s.on('data', (c) => { out += c }); s.on('error', (e) => resolve('ERR ' + e.message)); s.on('close', () => resolve(out)); s.write(text); setTimeout(() => s.destroy(), wait)
})
const first = (t: string) => `${t.split('\r\n')[0]} | ${(t.split('\r\n\r\n')[1] ?? '').slice(0, 160)}`
const P = `/api/v1/estates`
const cases: [string, string][] = [
  ['no host', `GET ${P} HTTP/1.0\r\n\r\n`],
  ['absolute uri other host', `GET http://evil.example${P} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: close\r\n\r\n`],
  ['host evil + abs own', `GET http://127.0.0.1:${port}${P} HTTP/1.1\r\nHost: evil.example\r\nConnection: close\r\n\r\n`],
  ['two hosts', `GET ${P} HTTP/1.1\r\nHost: 127.0.0.1\r\nHost: evil.example\r\nConnection: close\r\n\r\n`],
  ['x-forwarded-host', `GET ${P} HTTP/1.1\r\nHost: evil.example\r\nX-Forwarded-Host: 127.0.0.1\r\nConnection: close\r\n\r\n`],
  ['localhost dot', `GET ${P} HTTP/1.1\r\nHost: localhost.:${port}\r\nConnection: close\r\n\r\n`],
  ['LOCALHOST', `GET ${P} HTTP/1.1\r\nHost: LOCALHOST:${port}\r\nConnection: close\r\n\r\n`],
  ['127.1', `GET ${P} HTTP/1.1\r\nHost: 127.1:${port}\r\nConnection: close\r\n\r\n`],
  ['2130706433', `GET ${P} HTTP/1.1\r\nHost: 2130706433\r\nConnection: close\r\n\r\n`],
  ['user@', `GET ${P} HTTP/1.1\r\nHost: a@127.0.0.1\r\nConnection: close\r\n\r\n`],
  ['127.0.0.1.evil', `GET ${P} HTTP/1.1\r\nHost: 127.0.0.1.evil.example\r\nConnection: close\r\n\r\n`],
  ['localhost.evil', `GET ${P} HTTP/1.1\r\nHost: localhost.evil.example\r\nConnection: close\r\n\r\n`],
  ['host evil#', `GET ${P} HTTP/1.1\r\nHost: evil.example#127.0.0.1\r\nConnection: close\r\n\r\n`],
  ['host evil?', `GET ${P} HTTP/1.1\r\nHost: 127.0.0.1/@evil\r\nConnection: close\r\n\r\n`],
  ['origin null', `GET ${P} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nOrigin: null\r\nConnection: close\r\n\r\n`],
  ['origin other port', `GET ${P} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nOrigin: http://127.0.0.1:1\r\nConnection: close\r\n\r\n`],
  ['origin localhost vs 127', `GET ${P} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nOrigin: http://localhost:${port}\r\nConnection: close\r\n\r\n`],
  ['options preflight', `OPTIONS ${P} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nOrigin: http://evil.example\r\nAccess-Control-Request-Method: POST\r\nConnection: close\r\n\r\n`],
  ['http/1.0 host', `GET ${P} HTTP/1.0\r\nHost: evil.example\r\n\r\n`],
  ['navigate post', `POST ${P}/import HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nSec-Fetch-Site: cross-site\r\nSec-Fetch-Mode: navigate\r\nSec-Fetch-Dest: document\r\nContent-Type: text/plain\r\nContent-Length: 2\r\nConnection: close\r\n\r\n{}`],
  ['no type', `POST ${P}/import HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Length: 2\r\nConnection: close\r\n\r\n{}`],
  ['frame', `GET /estates/${id}/board HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nSec-Fetch-Site: cross-site\r\nSec-Fetch-Mode: navigate\r\nSec-Fetch-Dest: iframe\r\nConnection: close\r\n\r\n`],
  ['TE+CL', `POST ${P} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Type: application/json\r\nContent-Length: 2\r\nTransfer-Encoding: chunked\r\nConnection: close\r\n\r\n2\r\n{}\r\n0\r\n\r\n`],
  ['path up', `GET /../../etc/passwd HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: close\r\n\r\n`],
  ['path %2e', `GET /%2e%2e/%2e%2e/package.json HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: close\r\n\r\n`],
  ['assets dot', `GET /assets/..%5c..%5cpackage.json HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: close\r\n\r\n`],
  ['long url', `GET /${'a'.repeat(20000)} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: close\r\n\r\n`],
  ['trace', `TRACE / HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: close\r\n\r\n`],
  ['put', `PUT ${P} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Type: application/json\r\nContent-Length: 2\r\nConnection: close\r\n\r\n{}`],
  ['bad utf8', `GET ${P}/%ff HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: close\r\n\r\n`],
]
try {
  for (const [name, text] of cases) console.log(name.padEnd(24), first(await raw(text)).slice(0, 230).replace(/\s+/g, ' '))
  // 300 streams at once, then is anything else answered?
  const sockets = Array.from({ length: 300 }, () => { const s = net.connect(port, '127.0.0.1'); s.on('error', () => undefined); s.write(`GET ${P}/${id}/events HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\n\r\n`); return s })
  await new Promise((r) => setTimeout(r, 3000))
  const t = Date.now(); const r = await fetch(`${w.url}/readyz`); console.log('300 streams: readyz', r.status, Date.now() - t, 'ms')
  for (const s of sockets) s.destroy()
  // slow bodies
  const slow = Array.from({ length: 100 }, () => { const s = net.connect(port, '127.0.0.1'); s.on('error', () => undefined); s.write(`POST ${P} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Type: application/json\r\nContent-Length: 2000000\r\n\r\n{`); return s })
  await new Promise((r) => setTimeout(r, 1000))
  const t2 = Date.now(); const r2 = await fetch(`${w.url}${P}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ name: 'During slow bodies' }) }); console.log('100 slow bodies: create', r2.status, Date.now() - t2, 'ms', (await r2.text()).slice(0, 100))
  for (const s of slow) s.destroy()
} finally { await w.stop() }
