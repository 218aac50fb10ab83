// Writes docs/proof.md: the engine against closed forms, against the plain walk, and the coverage of its intervals.
import { bundle } from './bundle.mjs'

await import(await bundle('core/test/analytic/writeProof.ts', 'proof'))
