#!/usr/bin/env node
// Bundles the command line once for each state of its sources (a fraction of a second), then runs the bundle:
// TypeScript that is translated on the fly runs the simulation several times slower.
import { existsSync, readdirSync, statSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'

const here = dirname(fileURLToPath(import.meta.url))
const cli = join(here, '..')
const bundle = join(cli, 'dist', 'main.mjs')

function newest(folder) {
  return Math.max(
    0,
    ...readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => statSync(join(entry.parentPath, entry.name)).mtimeMs),
  )
}

const sources = [join(cli, 'src'), join(cli, '..', 'core', 'src'), join(cli, '..', 'threads', 'src'), join(cli, '..', 'outside', 'src')]
if (!existsSync(bundle) || statSync(bundle).mtimeMs < Math.max(...sources.map(newest))) {
  const { build } = await import('esbuild')
  await build({
    entryPoints: { main: join(cli, 'src', 'main.ts'), trialWorker: join(cli, '..', 'threads', 'src', 'trialWorker.ts') },
    outdir: join(cli, 'dist'),
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
    sourcemap: 'linked',
    // commander and piscina are CommonJS in part: give them a require
    banner: { js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);" },
    external: ['piscina', 'highs'],
  })
}
const { runCommand } = await import(pathToFileURL(bundle).href)
process.exitCode = await runCommand(process.argv.slice(2))
