import { serveStatic } from '@hono/node-server/serve-static'
import { Hono } from 'hono'
import { secureHeaders } from 'hono/secure-headers'
import { searches } from './search.ts'

/**
 * The application's files, with the headers that isolate the page (shared memory between its workers needs them) and
 * keep it from loading anything from elsewhere.
 *
 * @param root folder of the built application, relative to the working directory
 */
export function application(root: string): Hono {
  const app = new Hono()
  app.use(
    secureHeaders({
      crossOriginOpenerPolicy: 'same-origin',
      crossOriginEmbedderPolicy: 'require-corp',
      contentSecurityPolicy: {
        // The solver is WebAssembly; text is never run as a script.
        defaultSrc: ["'self'"], scriptSrc: ["'self'", "'wasm-unsafe-eval'"], styleSrc: ["'self'", "'unsafe-inline'"], imgSrc: ["'self'", 'data:'], workerSrc: ["'self'", 'blob:'], fontSrc: ["'self'", 'data:'],
      },
      strictTransportSecurity: false,
    }),
  )
  app.route('/api', searches())
  app.use('*', serveStatic({ root }))
  // Views are addresses of the one page.
  app.get('*', serveStatic({ root, path: 'index.html' }))
  app.notFound((c) => c.text('There is nothing here.', 404))
  app.onError((error, c) => {
    console.error(error)
    return c.text('Something went wrong here; the log of the server says what.', 500)
  })
  return app
}
