// Bundles and runs the benchmark, in Node and in a worker of Debian's Chromium: translated on the fly it would measure the
// translator. `--node` leaves the browser out.
import { createServer } from 'node:http'
import { build } from 'esbuild'
import { CHROMIUM } from './browser.mjs'
import { bundle } from './bundle.mjs'

await import(await bundle('bench/engine.ts', 'bench'))
if (!process.argv.includes('--node')) await inBrowser()

async function inBrowser() {
  const { chromium } = await import('@playwright/test')
  const { table } = await import(await bundle('bench/work.ts', 'bench-work'))
  const { outputFiles } = await build({
    entryPoints: ['bench/browserWorker.ts'],
    bundle: true,
    write: false,
    format: 'iife',
    logLevel: 'error',
  })
  const server = createServer((_, answer) => answer.writeHead(200, { 'content-type': 'text/html' }).end('<title>bench</title>'))
  await new Promise((ready) => server.listen(0, '127.0.0.1', ready))
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: ['--no-sandbox'] })
  try {
    const page = await browser.newPage()
    await page.goto(`http://127.0.0.1:${server.address().port}/`)
    await page.exposeFunction('told', (said) => console.log(said.speeds ? table('Browser worker', said.speeds) : weekWords(said.week)))
    await page.evaluate(
      (code) =>
        new Promise((done, failed) => {
          const worker = new Worker(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })))
          worker.onerror = (e) => failed(new Error(e.message))
          worker.onmessage = async ({ data }) => {
            await window.told(data)
            if (data.week) done()
          }
        }),
      outputFiles[0].text,
    )
  } finally {
    await browser.close()
    server.close()
  }
}

function weekWords({ requests, finished, makeSeconds, runSeconds }) {
  return `A week of ${requests.toLocaleString('en')} requests in one tab: made in ${makeSeconds.toFixed(1)} s, simulated in ${runSeconds.toFixed(1)} s, ${finished.toLocaleString('en')} finished`
}
