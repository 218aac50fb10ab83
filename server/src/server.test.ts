import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative } from 'node:path'
import { brotliCompressSync } from 'node:zlib'
import { describe, expect, it } from 'vitest'
import { application } from './app.ts'
import { readOptions } from './options.ts'

const root = mkdtempSync(join(tmpdir(), 'sand-clock-'))
writeFileSync(join(root, 'index.html'), '<p>the page</p>')
writeFileSync(join(root, 'a.js'), 'one')
mkdirSync(join(root, 'assets'))
writeFileSync(join(root, 'assets', 'index-abc.js'), '/* long */\n'.repeat(1000))
const app = application(relative(process.cwd(), root))

describe('the server', () => {
  it('serves files, and the page for every view', async () => {
    expect(await (await app.request('/a.js')).text()).toBe('one')
    expect(await (await app.request('/run')).text()).toBe('<p>the page</p>')
  })

  it('isolates the page and loads nothing from elsewhere', async () => {
    const { headers } = await app.request('/')
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin')
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp')
    expect(headers.get('content-security-policy')).toContain("default-src 'self'")
    expect(headers.get('content-security-policy')).not.toContain("'unsafe-eval'")
  })

  it('answers for names of this machine and those it was started for, and for no other', async () => {
    const of = async (host: string, ours = app) => (await ours.request(`http://${host}/a.js`)).status
    for (const host of ['localhost', 'localhost:4280', '127.0.0.1', '127.8.0.1:80', '[::1]:4280', 'sand.localhost'])
      expect(await of(host), host).toBe(200)
    for (const host of ['rebound.example', 'localhost.example', '10.0.0.7', '127.0.0.1.example', 'localhostx'])
      expect(await of(host), host).toBe(421)
    expect(await (await app.request('http://rebound.example/api/searches')).text()).toContain('does not go by that name')
    const open = application(relative(process.cwd(), root), ['0.0.0.0', 'plans.harbour'])
    for (const host of ['10.0.0.7:4280', 'plans.harbour', 'PLANS.harbour:80']) expect(await of(host, open), host).toBe(200)
    expect(await of('rebound.example', open)).toBe(421)
  })

  it('sends files compressed; those that never change may be kept', async () => {
    const get = (path: string) => app.request(path, { headers: { 'accept-encoding': 'gzip' } })
    const script = await get('/assets/index-abc.js')
    expect([script.headers.get('content-encoding'), script.headers.get('cache-control')]).toEqual([
      'gzip',
      'public, max-age=31536000, immutable',
    ])
    expect((await get('/')).headers.get('cache-control')).toBe('no-cache')
    expect((await get('/assets/none.js')).headers.get('cache-control')).toBe('no-cache')
  })

  it('sends what the build has compressed, in the way that the browser takes, and what it has not as it is asked', async () => {
    const get = async (path: string, takes: string) => {
      const answer = await app.request(path, { headers: { 'accept-encoding': takes } })
      return [answer.headers.get('content-encoding'), answer.headers.get('content-type'), answer.headers.get('vary')?.toLowerCase()]
    }
    writeFileSync(join(root, 'assets', 'index-abc.js.br'), brotliCompressSync('later()'))
    const script = 'text/javascript; charset=utf-8'
    expect(await get('/assets/index-abc.js', 'gzip, deflate, br, zstd')).toEqual(['br', script, 'accept-encoding'])
    expect((await get('/assets/index-abc.js', 'gzip'))[0]).toBe('gzip')
    expect(await get('/assets/index-abc.js', 'identity')).toEqual([null, script, 'accept-encoding'])
  })

  it('does not serve what lies outside its folder', async () => {
    const answer = await app.request('/../../../etc/hostname')
    expect(await answer.text()).toBe('<p>the page</p>')
  })

  it('listens on loopback unless told otherwise, and refuses a port that is none', () => {
    expect(readOptions([]).host).toBe('127.0.0.1')
    expect(readOptions(['--host', '0.0.0.0', '--port', '80'])).toEqual({ host: '0.0.0.0', port: 80, names: [], allowed: [], secrets: [] })
    expect(readOptions(['--name', 'plans.harbour', '--name', 'plans']).names).toEqual(['plans.harbour', 'plans'])
    expect(() => readOptions(['--port', 'http'])).toThrow('--port is http: it must be a whole number from 0 to 65535.')
  })
})
