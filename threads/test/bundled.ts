import { build } from 'esbuild'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'

/** Bundles an entry for Node threads as the programs do (scripts/bundle.mjs): packages written for require may call it. */
export async function bundled(folder: string, name: string, entry: string): Promise<URL> {
  const outfile = join(folder, `${name}.mjs`)
  await build({
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    external: ['piscina', 'highs'],
    logLevel: 'error',
    banner: { js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);" },
  })
  return pathToFileURL(outfile)
}
