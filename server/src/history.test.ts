import { describe, expect, it } from 'vitest'
import { histories } from './history.ts'
import { readOptions } from './options.ts'

const ask = (body: string, type = 'application/json', allowed: string[] = []) =>
  histories(allowed).request('/history', { method: 'POST', headers: { 'content-type': type }, body })

describe('histories that the server asks for', () => {
  it('are not asked for by pages of other origins, which can send plain text only', async () => {
    expect((await ask('{}', 'text/plain')).status).toBe(415)
  })

  it.each([
    ['{', 'address is : it must be of http or https'],
    ['7', 'must be of http or https'],
    ['{"address":"http://localhost:1","pastSeconds":"long"}', 'past: must be a time above 0'],
    ['{"address":"http://metrics.example","pastSeconds":60,"stepSeconds":60}', 'say --allow-host metrics.example at the start'],
  ])('are refused with a sentence: %s', async (body, words) => {
    const answer = await ask(body)
    expect(answer.status).toBe(422)
    expect(((await answer.json()) as { message: string }).message).toContain(words)
  })

  it('are asked of machines that the server was started for', async () => {
    expect(readOptions(['--allow-host', 'localhost.invalid', '--allow-host', 'b']).allowed).toEqual(['localhost.invalid', 'b'])
    const answer = await ask('{"address":"http://localhost.invalid:1","pastSeconds":60,"stepSeconds":60}', undefined, ['localhost.invalid'])
    // There is no such machine, but it was asked.
    expect(((await answer.json()) as { message: string }).message).toContain('does not answer to the end (')
  })
})
