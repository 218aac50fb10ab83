import { build, type PluginBuild } from 'esbuild'
import { readdirSync, rmSync } from 'node:fs'
import { join, relative, resolve } from 'node:path'
import type { Plugin } from 'vitest/config'

/** Packages are Node's to load, but for our own rooms, which are named like them, and the arithmetic that stands in the inmost loops. */
const packagesApart = {
  name: 'packages apart',
  setup: ({ onResolve }: PluginBuild) =>
    onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || /^@(sandclock|stdlib)\//.test(path) ? undefined : { path, external: true },
    ),
}

const ROOT = resolve(import.meta.dirname, '..')
/** The core by itself, for tests of the interface: Vitest would translate some hundred files of it, once for each kind of test. */
const CORE = join(ROOT, 'core', 'src', 'index.ts')
/** The rooms whose tests need nothing but Node. */
const ROOMS = ['core', 'threads', 'outside', 'cli', 'server', 'test']
/** Where the bundles lie: Node loads what is in here itself, without Vitest between. */
const BUNDLES = join(ROOT, '.build', 'tests')

const testsOf = (room: string) =>
  readdirSync(join(ROOT, room), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.name.endsWith('.test.ts') && !entry.parentPath.includes('node_modules'))
    .map((entry) => join(entry.parentPath, entry.name))

/** Each project of a run has this module anew: they have one process. */
const shared = globalThis as typeof globalThis & { bundledTests?: Promise<string[]> | undefined }

/**
 * Bundles the tests in one go. What several of them test is apart, and shared: a worker loads the engine once, and has compiled it well by
 * its second test.
 */
async function bundleAll(tests: string[]) {
  rmSync(BUNDLES, { recursive: true, force: true }) // what is shared is named by what is in it, and would pile up
  const { metafile } = await build({
    absWorkingDir: ROOT,
    entryPoints: tests,
    outbase: ROOT,
    outdir: BUNDLES,
    outExtension: { '.js': '.mjs' },
    chunkNames: 'shared/[hash]',
    bundle: true,
    splitting: true,
    metafile: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: 'linked',
    logLevel: 'error',
    plugins: [packagesApart],
  })
  return Object.keys(metafile.inputs).map((file) => join(ROOT, file))
}

const bundleOf = (file: string) => join(BUNDLES, relative(ROOT, file)).replace(/\.ts$/, '.mjs')

/**
 * Gives a test as bundles with all that it tests. Left to Vitest, each call from one module to another goes through a getter, which the
 * engine does not pay where it is used, and what computes takes up to thrice as long.
 */
export function bundleWhole(): Plugin {
  const tests = new Set(ROOMS.flatMap(testsOf))
  return {
    name: 'in one piece',
    enforce: 'pre',
    watchChange: () => (shared.bundledTests = undefined),
    resolveId: (id) => (id === '@sandclock/core' ? CORE : undefined),
    async load(id) {
      if (!tests.has(id) && id !== CORE) return undefined
      shared.bundledTests ??= bundleAll([...tests, CORE])
      for (const file of await shared.bundledTests) this.addWatchFile(file)
      const from = JSON.stringify(bundleOf(id))
      return id === CORE ? `export * from ${from}` : `import ${from}`
    },
  }
}
