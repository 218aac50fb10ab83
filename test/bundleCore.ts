import { build } from 'esbuild'
import type { Plugin } from 'vitest/config'

/**
 * Gives a test of the core as one bundle with all that it tests. Left apart, each call from one module to another goes through a
 * getter, which the engine does not pay where it is used, and the laws and the comparisons with the plain walk take a third longer.
 */
export function bundleCore(): Plugin {
  return {
    name: 'core in one piece',
    enforce: 'pre',
    async load(id) {
      if (!/\/core\/test\/.*\.test\.ts$/.test(id)) return undefined
      const { outputFiles, metafile } = await build({
        entryPoints: [id],
        outdir: '.',
        bundle: true,
        write: false,
        metafile: true,
        platform: 'node',
        format: 'esm',
        target: 'node20',
        sourcemap: 'external',
        logLevel: 'error',
        external: ['vitest', 'fast-check', 'highs'],
        banner: { js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);" },
      })
      for (const file of Object.keys(metafile.inputs)) this.addWatchFile(file)
      const [map, code] = ['.map', '.js'].map((end) => outputFiles.find((f) => f.path.endsWith(end))?.text ?? '')
      return { code, map }
    },
  }
}
