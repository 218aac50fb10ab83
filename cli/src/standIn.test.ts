import { execFile, spawn } from 'node:child_process'
import { promisify } from 'node:util'
import { describe, expect, it } from 'vitest'

const COMMAND = 'cli/bin/sandclock.mjs'
const EXAMPLE = 'examples/one-configuration.json'

describe('a stand-in on the command line', () => {
  it('says where it is, answers until it is told to end, and ends well', async () => {
    const child = spawn('node', [COMMAND, 'stand-in', EXAMPLE, '--speed', '20'], { stdio: ['ignore', 'pipe', 'pipe'] })
    let said = ''
    child.stdout.on('data', (data: Buffer) => (said += data.toString()))
    await expect.poll(() => said).toMatch(/^talk on .+ is at http:\/\/127\.0\.0\.1:\d+, 20 times as fast/)
    const url = /http:\/\/[\d.:]+/.exec(said)?.[0] ?? ''
    const response = await fetch(`${url}/answer`, { method: 'POST', body: JSON.stringify({ input: 30, output: 3 }) })
    expect(await response.json()).toEqual({ text: 'sand runs through ', usage: { input: 30, output: 3 } })
    const ended = new Promise<number | null>((resolve) => child.on('exit', resolve))
    child.kill('SIGTERM')
    expect(await ended).toBe(0)
  })

  it.each([
    [['--speed', '0'], '--speed is 0: it must be a number from 0.01 to 1000'],
    [['--fail', '2'], '--fail is 2: it must be a number from 0 to 1'],
    [['--port', '1.5'], '--port is 1.5: it must be a whole number from 0 to 65535'],
    [['--service', 'x'], '--service is x: it must say which: talk'],
  ])('refuses %j with a sentence', async (args, says) => {
    const run = promisify(execFile)('node', [COMMAND, 'stand-in', EXAMPLE, ...args])
    await expect(run).rejects.toMatchObject({ code: 2, stderr: expect.stringContaining(says) as string })
  })
})
