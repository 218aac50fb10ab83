import { serve, type ServerType } from '@hono/node-server'
import type { AddressInfo } from 'node:net'
import { application } from './app.ts'
import { readOptions, type Options } from './options.ts'

const ROOT = './app/dist'
/** How many ports are tried when the first is taken. */
const TRIES = 20

function listen(started: Omit<Options, 'port'>, port: number, triesLeft: number): void {
  const { host, names, allowed, secrets } = started
  const known = Object.fromEntries(secrets.map((name) => [name, process.env[name]]))
  const server: ServerType = serve(
    { fetch: application(ROOT, [host, ...names], allowed, known).fetch, hostname: host, port },
    (info: AddressInfo) => {
      const shown = host === '127.0.0.1' ? 'localhost' : host
      console.log(`Sand Clock is at http://${shown}:${info.port} (Ctrl+C stops it)`)
    },
  )
  server.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EADDRINUSE' && triesLeft > 0 && port !== 0) return listen(started, port + 1, triesLeft - 1)
    console.error(`Could not listen on ${host}, port ${port}: ${error.message}`)
    process.exit(1)
  })
  process.once('SIGINT', () => server.close(() => process.exit(0)))
  process.once('SIGTERM', () => server.close(() => process.exit(0)))
}

const options = readOptions(process.argv.slice(2))
listen(options, options.port, TRIES)
