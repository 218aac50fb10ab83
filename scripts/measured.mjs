// Measures a network that computes for real on this machine, and writes docs/measured.md.
import { run } from './setUp.mjs'
import { bundle } from './bundle.mjs'

const server = '.build/realModel.mjs'
await bundle('examples/realModel/serve.ts', 'realModel')
const { writeMeasured } = await import(await bundle('examples/realModel/measured.ts', 'measured'))
await writeMeasured(server)
run('npx', ['prettier', '--write', '--log-level', 'warn', 'docs/measured.md'])
process.exit(0)
