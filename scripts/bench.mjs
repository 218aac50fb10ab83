// Bundles and runs the benchmark: translated on the fly it would measure the translator.
import { bundle } from './bundle.mjs'

await import(await bundle('bench/engine.ts', 'bench'))
