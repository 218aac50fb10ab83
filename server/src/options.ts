import { parseArgs } from 'node:util'

export interface Options {
  host: string
  port: number
}

const LOOPBACK = '127.0.0.1'
const DEFAULT_PORT = 4280

/**
 * Options of the server from its arguments: `--host` (loopback only unless told otherwise) and `--port`.
 *
 * @throws Error with a sentence for an argument that can not be used
 */
export function readOptions(args: string[]): Options {
  const { values } = parseArgs({ args, options: { host: { type: 'string' }, port: { type: 'string' } } })
  const port = values.port === undefined ? DEFAULT_PORT : Number(values.port)
  if (!Number.isInteger(port) || port < 0 || port > 65_535) throw new Error(`--port is ${values.port}: it must be a whole number from 0 to 65535.`)
  return { host: values.host ?? LOOPBACK, port }
}
