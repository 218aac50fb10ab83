import { createServer, type RequestListener } from 'node:http'
import type { AddressInfo } from 'node:net'
import { describe, expect, it } from 'vitest'
import { isAllowed } from './allowed.ts'
import { askHistory } from './askHistory.ts'

/** A monitoring server that answers as it is told, for as long as it is asked. */
async function against<T>(listener: RequestListener, ask: (address: string) => Promise<T>): Promise<T> {
  const server = createServer(listener).listen(0, '127.0.0.1')
  await new Promise((there) => server.once('listening', there))
  try {
    return await ask(`http://127.0.0.1:${(server.address() as AddressInfo).port}`)
  } finally {
    server.closeAllConnections()
    server.close()
  }
}

const question = { select: 'calls_total', pastSeconds: 3600, stepSeconds: 60 }
const NOW = 1_800_000_030

describe('asking a monitoring server', () => {
  it('asks for whole steps up to now, under the path of its address, and hands on what it says, errors too', async () => {
    const asked: string[] = []
    const text = await against(
      ({ url = '' }, answer) => {
        asked.push(url)
        answer.statusCode = 400
        answer.end('{"status":"error","errorType":"bad_data","error":"no such thing"}')
      },
      (address) => askHistory({ ...question, address: `${address}/metrics/` }, [], NOW),
    )
    expect(text).toContain('no such thing')
    expect(asked).toEqual(['/metrics/api/v1/query_range?query=calls_total&start=1799996400&end=1800000000&step=60'])
  })

  it('asks for every metric where none is selected', async () => {
    const text = await against(
      ({ url = '' }, answer) => answer.end(JSON.stringify({ query: new URL(url, 'http://x').searchParams.get('query') })),
      (address) => askHistory({ ...question, select: ' ', address }, [], NOW),
    )
    expect(JSON.parse(text)).toEqual({ query: '{__name__=~".+"}' })
  })

  it.each<[RequestListener, string]>([
    [(_, answer) => answer.end('<p>a page</p>'), 'it answered 200, and not as a monitoring server does'],
    [(_, answer) => answer.writeHead(302, { location: 'http://127.0.0.1:1/' }).end(), 'does not answer to the end ('],
    [(_, answer) => answer.end(`{"much":"${'x'.repeat(65_000_000)}"}`), 'select: gives more than 64 MB; name fewer metrics'],
    [(_, answer) => void answer.write('{"status":', () => answer.destroy()), 'does not answer to the end ('],
    [({ socket }) => socket.destroy(), 'does not answer to the end ('],
  ])('says what is wrong with an answer that is none (%#)', async (listener, words) => {
    await expect(against(listener, (address) => askHistory({ ...question, address }, [], NOW))).rejects.toThrow(words)
  })

  it.each([
    [{ address: 'localhost:9090' }, 'address is localhost:9090: it must be of http or https'],
    [{ address: 'file:///etc/passwd' }, 'must be of http or https'],
    [{ pastSeconds: NaN }, 'past: must be a time above 0'],
    [{ stepSeconds: 0 }, 'step: must be a time above 0'],
    [{ pastSeconds: 86_400, stepSeconds: 1 }, 'step: makes more than 11000 samples of so long a time; take 8 s or more'],
    [{ address: 'http://10.0.0.7:9090' }, 'say --allow-host 10.0.0.7 at the start'],
    [{ address: 'http://127.0.0.1.example' }, 'say --allow-host 127.0.0.1.example at the start'],
  ])('refuses %j before anything is asked', async (patch, words) => {
    await expect(askHistory({ address: 'http://localhost:1', ...question, ...patch }, ['other.example'], NOW)).rejects.toThrow(words)
  })

  it('may ask this machine, however its address is written, and those that were named', () => {
    const hosts = ['localhost', '127.8.0.1', '[::1]', 'Metrics.harbour', new URL('http://2130706433').hostname]
    expect(hosts.map((host) => isAllowed(host, ['metrics.HARBOUR']))).toEqual(hosts.map(() => true))
    const others = ['0.0.0.0', '10.0.0.7', 'localhost.example', 'metrics.harbour.example', '169.254.169.254', '[::ffff:10.0.0.7]']
    expect(others.map((host) => isAllowed(host, ['metrics.harbour']))).toEqual(others.map(() => false))
  })
})
