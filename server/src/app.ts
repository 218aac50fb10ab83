import { serveStatic } from '@hono/node-server/serve-static'
import { Hono } from 'hono'
import { compress } from 'hono/compress'
import { secureHeaders } from 'hono/secure-headers'
import { isOurs } from './hosts.ts'
import { histories } from './history.ts'
import { probes } from './probes.ts'
import { searches } from './search.ts'

const ASSETS = '/assets/'

/**
 * The application's files, with the headers that isolate the page (shared memory between its workers needs them) and
 * keep it from loading anything from elsewhere.
 *
 * @param root folder of the built application, relative to the working directory
 * @param startedFor hosts that it answers for beside this machine's own: see `isOurs`
 * @param allowed machines that it may ask beside its own
 * @param secrets what may be put into headers of what it asks, by name
 */
export function application(
  root: string,
  startedFor: readonly string[] = [],
  allowed: readonly string[] = [],
  secrets: Readonly<Record<string, string | undefined>> = {},
): Hono {
  const app = new Hono()
  app.use(async (c, next) => {
    if (isOurs(new URL(c.req.url).host, startedFor)) return next()
    return c.text('This server does not go by that name. Open it as localhost, or start it with --host or --name of that name.', 421)
  })
  app.use(
    secureHeaders({
      crossOriginOpenerPolicy: 'same-origin',
      crossOriginEmbedderPolicy: 'require-corp',
      contentSecurityPolicy: {
        // The solver is WebAssembly; text is never run as a script.
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:'],
        workerSrc: ["'self'", 'blob:'],
        fontSrc: ["'self'", 'data:'],
      },
      strictTransportSecurity: false,
    }),
  )
  app.route('/api', searches())
  app.route('/api', histories(allowed))
  app.route('/api', probes(allowed, secrets))
  app.use(compress())
  app.use(async (c, next) => {
    await next()
    // Files whose names carry a digest of what is in them never change; the page that names them does.
    c.header('cache-control', c.req.path.startsWith(ASSETS) && c.res.ok ? 'public, max-age=31536000, immutable' : 'no-cache')
  })
  app.use('*', serveStatic({ root, precompressed: true }))
  // Views are addresses of the one page; a file that is not there is none.
  app.get('*', async (c, next) =>
    c.req.path.startsWith(ASSETS) ? c.notFound() : serveStatic({ root, path: 'index.html', precompressed: true })(c, next),
  )
  app.notFound((c) => c.text('There is nothing here.', 404))
  app.onError((error, c) => {
    console.error(error)
    return c.text('Something went wrong here; the log of the server says what.', 500)
  })
  return app
}
