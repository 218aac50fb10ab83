import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect } from '@playwright/test'

/** A made-up world that goes fast: each time somebody looks, five minutes have passed. It ends now. */
const STEP_SECONDS = 300
const DAYS = 3
const STEPS = (DAYS * 86_400) / STEP_SECONDS
/** When the server of the made-up world is begun anew, and its counters with it. */
const RESTART_AT = 500

/** Requests a second of two routes: desks are busy from 8 to 18 h, letters come all day. */
export const RATES = { desk: (hour: number) => (hour >= 8 && hour < 18 ? 3 : 0.3), letters: () => 0.5 }

/** Shows counters of requests and prompt tokens of the next moment, with its time, as often as somebody asks. */
function exporter(): { server: Server; isOver: () => boolean } {
  const start = Math.floor(Date.now() / 1000 / STEP_SECONDS) * STEP_SECONDS - STEPS * STEP_SECONDS
  const calls = { desk: 0, letters: 0 }
  let step = 0
  const server = createServer((_, answer) => {
    answer.setHeader('content-type', 'application/openmetrics-text; version=1.0.0; charset=utf-8')
    if (step >= STEPS) return void answer.end('# EOF\n')
    if (step === RESTART_AT) calls.desk = calls.letters = 0
    const at = start + step * STEP_SECONDS
    for (const route of ['desk', 'letters'] as const) calls[route] += RATES[route]((at / 3600) % 24) * STEP_SECONDS
    step++
    const lines = (name: string, factor: number) =>
      (['desk', 'letters'] as const).map((route) => `${name}_total{route="${route}"} ${calls[route] * factor} ${at}`)
    answer.end(
      `# TYPE calls counter\n${lines('calls', 1).join('\n')}\n# TYPE words_in counter\n${lines('words_in', 500).join('\n')}\n# EOF\n`,
    )
  })
  return { server, isOver: () => step >= STEPS }
}

/** A port that is free at this moment. */
async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1')
  await new Promise((there) => server.once('listening', there))
  const { port } = server.address() as AddressInfo // it listens on one
  await new Promise((over) => server.close(over))
  return port
}

/**
 * A real monitoring server that has looked at the made-up world until its end.
 *
 * @returns where it is, and what ends both
 */
export async function monitored(): Promise<{ address: string; end: () => Promise<void> }> {
  const { server, isOver } = exporter()
  server.listen(0, '127.0.0.1')
  await new Promise((there) => server.once('listening', there))
  const folder = mkdtempSync(join(tmpdir(), 'sand-clock-monitored-'))
  const config = join(folder, 'config.yaml')
  const target = `127.0.0.1:${(server.address() as AddressInfo).port}`
  writeFileSync(
    config,
    `global: { scrape_interval: 20ms, scrape_timeout: 20ms }
storage: { tsdb: { out_of_order_time_window: 30d } }
scrape_configs: [{ job_name: world, static_configs: [{ targets: ['${target}'] }] }]
`,
  )
  const port = await freePort()
  const monitor = spawn(
    process.env.PROMETHEUS ?? '/usr/bin/prometheus',
    [
      `--config.file=${config}`,
      `--storage.tsdb.path=${join(folder, 'data')}`,
      `--web.listen-address=127.0.0.1:${port}`,
      '--log.level=error',
    ],
    { stdio: 'ignore' },
  )
  const gone = new Promise((over) => monitor.once('exit', over))
  const end = async () => {
    monitor.kill('SIGKILL')
    await gone
    server.closeAllConnections()
    await new Promise((over) => server.close(over))
    rmSync(folder, { recursive: true, force: true })
  }
  try {
    await expect.poll(isOver, { message: 'the monitoring server looks at every step' }).toBe(true)
  } catch (error) {
    await end()
    throw error
  }
  return { address: `http://127.0.0.1:${port}`, end }
}
