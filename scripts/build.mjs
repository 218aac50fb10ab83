// Builds the server and the application, and lays the answer of the demo plan beside it, with which it opens.
import { createHash } from 'node:crypto'
import { copyFileSync, existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { bundle } from './bundle.mjs'
import { demoAnswer } from './demoAnswer.mjs'
import { guide } from './guide.mjs'
import { precompress } from './precompress.mjs'
import { run } from './setUp.mjs'

/** A digest of every file below the folders. */
function digest(folders) {
  const hash = createHash('sha256')
  for (const folder of folders) {
    const files = readdirSync(folder, { recursive: true, withFileTypes: true }).filter(
      (e) => e.isFile() && !e.parentPath.includes('node_modules') && !e.parentPath.includes('dist'),
    )
    for (const file of files.map((e) => join(e.parentPath, e.name)).sort()) hash.update(file).update(readFileSync(file))
  }
  return hash.digest('hex')
}

/** Runs the work unless its sources are those of the last time. */
function unlessSame(name, folders, made, work) {
  const stamp = join('.build', `${name}.stamp`)
  const now = digest(folders)
  if (existsSync(made) && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return
  work()
  writeFileSync(stamp, now)
}

mkdirSync('.build', { recursive: true })
await bundle('server/src/main.ts', 'server')
await bundle('threads/src/trialWorker.ts', 'trialWorker') // the server's threads look for it beside the server
await demoAnswer('.build')
unlessSame('app', ['core/src', 'app', 'examples'], 'app/dist/index.html', () => {
  run('npm', ['run', 'build', '--workspace', 'app', '--silent', '--', '--logLevel', 'warn'])
})
const { linesOf } = await import(await bundle('app/src/search/pieces.ts', 'pieces'))
const answer = JSON.parse(readFileSync(join('.build', 'demo-answer.json'), 'utf8'))
writeFileSync(join('app/dist', 'demo-answer.jsonl'), linesOf(answer).join('\n'))
copyFileSync(join('.build', 'demo-frontiers.json'), join('app/dist', 'demo-frontiers.json'))
copyFileSync('examples/curlew-measured.csv', 'app/dist/curlew-measured.csv')
guide('app/dist')
await precompress('app/dist')
