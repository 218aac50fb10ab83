import { serve } from '@hono/node-server'
import type { AddressInfo } from 'node:net'
import { standInApplication, type Usual } from './application.ts'
import { StandIn, type StandInOptions } from './standIn.ts'

export interface ServedStandIn {
  standIn: StandIn
  /** where it is asked */
  url: string
  stop: () => Promise<void>
}

/**
 * Begins to serve a stand-in to this machine alone.
 *
 * @param port 0 for any that is free
 * @throws when the port is taken
 */
export function serveStandIn(options: StandInOptions, usual: Usual, port: number): Promise<ServedStandIn> {
  const standIn = new StandIn(options)
  const { fetch } = standInApplication(standIn, usual)
  return new Promise((resolve, reject) => {
    const server = serve({ fetch, hostname: '127.0.0.1', port }, (info: AddressInfo) =>
      resolve({
        standIn,
        url: `http://127.0.0.1:${info.port}`,
        stop: () =>
          new Promise<void>((done) => {
            standIn.time.stop()
            server.close(() => done())
            // Those who are still being told something would keep it open.
            if ('closeAllConnections' in server) server.closeAllConnections()
          }),
      }),
    )
    server.on('error', reject)
  })
}
