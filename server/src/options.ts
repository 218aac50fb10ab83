import { parseArgs } from 'node:util'

export interface Options {
  host: string
  port: number
  /** names that it goes by beside those of this machine */
  names: string[]
  /** machines that it may ask for metrics histories, or measure, beside its own */
  allowed: string[]
  /** variables of its environment that a measurement may put into headers */
  secrets: string[]
}

const LOOPBACK = '127.0.0.1'
const DEFAULT_PORT = 4280

/**
 * Options of the server from its arguments: `--host` (loopback only unless told otherwise), `--port`, `--name` for each name that it
 * goes by, `--allow-host` for each machine that it may ask, and `--secret` for each variable of its environment that it may send there.
 *
 * @throws Error with a sentence for an argument that can not be used
 */
export function readOptions(args: string[]): Options {
  const { values } = parseArgs({
    args,
    options: {
      host: { type: 'string' },
      port: { type: 'string' },
      name: { type: 'string', multiple: true },
      'allow-host': { type: 'string', multiple: true },
      secret: { type: 'string', multiple: true },
    },
  })
  const port = values.port === undefined ? DEFAULT_PORT : Number(values.port)
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new Error(`--port is ${values.port}: it must be a whole number from 0 to 65535.`)
  return {
    host: values.host ?? LOOPBACK,
    port,
    names: values.name ?? [],
    allowed: values['allow-host'] ?? [],
    secrets: values.secret ?? [],
  }
}
