import { isIP } from 'node:net'

/**
 * Whether a machine may be asked: this one always, others only where whoever started the program named them.
 *
 * @param host name or address without a port, as `URL` gives it
 * @param allowed names that were given with `--allow-host`
 * @example isAllowed('127.0.0.1', []) // true
 */
export function isAllowed(host: string, allowed: readonly string[]): boolean {
  const name = host.toLowerCase().replace(/^\[(.*)\]$/, '$1')
  if (name === 'localhost' || name === '::1' || (isIP(name) === 4 && name.startsWith('127.'))) return true
  return allowed.some((own) => own.toLowerCase() === name)
}
