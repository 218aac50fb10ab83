// Makes the files that are derived from code: example plans, the example log, the JSON Schema of the plan format.
import { bundle } from './bundle.mjs'

await import(await bundle('examples/make/main.ts', 'examples'))
