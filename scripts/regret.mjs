// Writes docs/regret.md: the search against trying everything, on random plans, and the time of large ones.
import { bundle } from './bundle.mjs'

await import(await bundle('core/test/analytic/writeRegret.ts', 'regret'))
