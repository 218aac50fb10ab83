import { build, type PluginBuild } from 'esbuild'
import { resolve } from 'node:path'
import type { Plugin } from 'vitest/config'

/** Packages are Node's to load, but for our own rooms, which are named like them, and the arithmetic that stands in the inmost loops. */
const packagesApart = {
  name: 'packages apart',
  setup: ({ onResolve }: PluginBuild) =>
    onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
      kind === 'entry-point' || /^@(sandclock|stdlib)\//.test(path) ? undefined : { path, external: true },
    ),
}

/** The rooms whose tests compute for seconds; to bundle costs each file one. */
const COMPUTES = /\/(core\/(test|src\/(answer|search|one|cost|life|demand\/fitted))|cli)\/.*\.test\.ts$/

/**
 * Gives a test that computes as one bundle with all that it tests. Left apart, each call from one module to another goes through a
 * getter, which the engine does not pay where it is used, and what computes takes up to thrice as long.
 */
export function bundleWhole(): Plugin {
  return {
    name: 'in one piece',
    enforce: 'pre',
    async load(id) {
      if (!COMPUTES.test(id)) return undefined
      const { metafile, outputFiles } = await build({
        entryPoints: [id],
        outdir: '.',
        bundle: true,
        metafile: true,
        platform: 'node',
        format: 'esm',
        target: 'node20',
        sourcemap: 'external',
        write: false,
        logLevel: 'error',
        plugins: [packagesApart],
      })
      for (const file of Object.keys(metafile.inputs)) this.addWatchFile(resolve(file))
      const [map, code] = ['.map', '.js'].map((end) => outputFiles.find((f) => f.path.endsWith(end))?.text ?? '')
      return { code: code!, map: map! }
    },
  }
}
