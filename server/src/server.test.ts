import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative } from 'node:path'
import { describe, expect, it } from 'vitest'
import { application } from './app.ts'
import { readOptions } from './options.ts'

const root = mkdtempSync(join(tmpdir(), 'sand-clock-'))
writeFileSync(join(root, 'index.html'), '<p>the page</p>')
writeFileSync(join(root, 'a.js'), 'one')
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

  it('does not serve what lies outside its folder', async () => {
    const answer = await app.request('/../../../etc/hostname')
    expect(await answer.text()).toBe('<p>the page</p>')
  })

  it('listens on loopback unless told otherwise, and refuses a port that is none', () => {
    expect(readOptions([]).host).toBe('127.0.0.1')
    expect(readOptions(['--host', '0.0.0.0', '--port', '80'])).toEqual({ host: '0.0.0.0', port: 80 })
    expect(() => readOptions(['--port', 'http'])).toThrow('--port is http: it must be a whole number from 0 to 65535.')
  })
})
