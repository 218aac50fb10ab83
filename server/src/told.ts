import type { Context } from 'hono'
import { streamSSE } from 'hono/streaming'

/**
 * What is said of work under way, as server-sent events.
 *
 * @param listen begins to listen, and gives how to stop
 * @param isLast after which the connection is closed
 */
export function told<Said extends { event: string; data: unknown }>(
  c: Context,
  listen: (listener: (said: Said) => void) => (() => void) | undefined,
  isLast: (said: Said) => boolean,
): Response {
  return streamSSE(
    c,
    (stream) =>
      new Promise<void>((over) => {
        const end = () => {
          unlisten?.()
          over()
        }
        const tell = async (said: Said) => {
          await stream.writeSSE({ event: said.event, data: JSON.stringify(said.data) })
          if (isLast(said)) end()
        }
        const unlisten = listen((said) => void tell(said))
        stream.onAbort(end)
      }),
  )
}
