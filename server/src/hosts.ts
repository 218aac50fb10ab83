import { isIP } from 'node:net'
import { hostname } from 'node:os'

/**
 * Whether a request asks for this server by a name that it goes by. A page elsewhere can have its own name point to this
 * machine and would then be let in by its browser: names of others are refused.
 *
 * @param host as the request names it: a name or an address, with or without a port
 * @param startedFor the host that the server listens on, and names that it was told to go by
 */
export function isOurs(host: string, startedFor: readonly string[]): boolean {
  const name = host
    .toLowerCase()
    .replace(/:\d+$/, '')
    .replace(/^\[(.*)\]$/, '$1')
    .replace(/\.$/, '')
  if (name === 'localhost' || name.endsWith('.localhost') || name === '::1' || (isIP(name) === 4 && name.startsWith('127.'))) return true
  if (startedFor.some((own) => own.toLowerCase() === name)) return true
  // Who listens on all addresses is reached by any of them, and by the name of the machine.
  return startedFor.some((own) => own === '0.0.0.0' || own === '::') && (isIP(name) !== 0 || name === hostname().toLowerCase())
}
