// The answer of the demo plan takes a minute to find. It is kept, with a digest of all that it is made of: the program that finds it,
// its solver and the plan. Where that is still the same the kept one is taken, else it is found anew and kept.
import { build } from 'esbuild'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, brotliDecompressSync } from 'node:zlib'
import { run } from './setUp.mjs'

const PLAN = 'examples/skerry-sound.json'
const KEPT = 'examples/skerry-sound-answer'
const MADE_OF = join(KEPT, 'made-of.txt')
const FILES = ['demo-answer.json', 'demo-frontiers.json']

/** Puts the files of the demo's answer into a folder. */
export async function demoAnswer(folder) {
  const now = await digest()
  const isKept = existsSync(MADE_OF) && readFileSync(MADE_OF, 'utf8').trim() === now
  if (isKept) {
    for (const name of FILES) writeFileSync(join(folder, name), brotliDecompressSync(readFileSync(join(KEPT, `${name}.br`))))
    return
  }
  console.log('Finding the answer of the demo plan …')
  const [answer, frontiers] = FILES.map((name) => join(folder, name))
  run('node', ['cli/bin/sandclock.mjs', 'recommend', PLAN, '--json', '--out', answer, '--frontier', frontiers])
  mkdirSync(KEPT, { recursive: true })
  for (const name of FILES) writeFileSync(join(KEPT, `${name}.br`), brotliCompressSync(readFileSync(join(folder, name))))
  writeFileSync(MADE_OF, `${now}\n`)
}

async function digest() {
  const { outputFiles } = await build({
    entryPoints: ['cli/src/commands/recommend.ts', 'threads/src/trialWorker.ts'],
    outdir: 'none',
    write: false,
    bundle: true,
    minify: true, // words of comments change nothing
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
    external: ['piscina', 'highs'],
  })
  const hash = createHash('sha256').update(readFileSync(PLAN))
  for (const { contents } of outputFiles) hash.update(contents)
  return hash.update(JSON.parse(readFileSync('node_modules/highs/package.json', 'utf8')).version).digest('hex')
}
