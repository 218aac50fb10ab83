#!/usr/bin/env node
// Bundles the command line once for each state of its sources (a fraction of a second), then runs the bundle:
// TypeScript that is translated on the fly runs the simulation several times slower.
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
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
  const options = {
    outdir: dirname(bundle),
    outExtension: { '.js': '.mjs' },
    write: false,
    bundle: true,
    chunkNames: '[name]-[hash]',
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
    sourcemap: 'linked',
    // commander and piscina are CommonJS in part: give them a require
    banner: { js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);" },
    external: ['piscina', 'highs'],
  }
  const made = await Promise.all([
    // A command loads what it needs: all of it in one file took four times as long to start as Node itself.
    build({ ...options, entryPoints: [join(cli, 'src', 'main.ts')], splitting: true }),
    // A thread needs less than they do.
    build({ ...options, entryPoints: [join(cli, '..', 'threads', 'src', 'trialWorker.ts')] }),
  ])
  put(made.flatMap(({ outputFiles }) => outputFiles))
}

/** Lays the files where they belong, each whole or not at all, the one that says that all are there last; others start meanwhile. */
function put(files) {
  mkdirSync(dirname(bundle), { recursive: true })
  for (const { path, contents } of files.toSorted((a, b) => (a.path === bundle) - (b.path === bundle))) {
    writeFileSync(`${path}.${process.pid}`, contents)
    renameSync(`${path}.${process.pid}`, path)
  }
  const wanted = new Set(files.map(({ path }) => basename(path)))
  for (const name of readdirSync(dirname(bundle)))
    if (/\.(mjs|map)$/.test(name) && !wanted.has(name)) rmSync(join(dirname(bundle), name), { force: true })
}

const { runCommand } = await import(pathToFileURL(bundle).href)
process.exitCode = await runCommand(process.argv.slice(2))
