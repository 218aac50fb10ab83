import { build } from 'esbuild'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'

/** Bundles a TypeScript entry for Node into .build/ and gives the bundle's address. */
export async function bundle(entry, name) {
  mkdirSync('.build', { recursive: true })
  const outfile = join('.build', `${name}.mjs`)
  await build({
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
    sourcemap: 'linked',
    external: ['piscina', 'highs', 'onnxruntime-web', 'protobufjs'],
    banner: { js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);" },
  })
  return pathToFileURL(outfile).href
}
