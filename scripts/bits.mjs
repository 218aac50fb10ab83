// Compares digests of everything that has to be the same to the bit with those that are kept, in this Node and in others.
// `--keep` writes them anew: for a change that is meant to move results, and that says so.
import { spawnSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { bundle } from './bundle.mjs'
import { otherNodes } from './otherNodes.mjs'

const KEPT = 'core/test/bits/kept.json'

const program = fileURLToPath(await bundle('core/test/bits/print.ts', 'bits'))

function bitsOf(node) {
  const { status, stdout, stderr } = spawnSync(node, [program], { encoding: 'utf8' })
  if (status !== 0) throw new Error(`${node} ended with ${status}: ${stderr}`)
  return JSON.parse(stdout)
}

/** What differs, by name: "elementary ln". */
function differences(kept, found) {
  const names = (bits) =>
    Object.entries(bits).flatMap(([room, digests]) => Object.entries(digests).map(([name, digest]) => [`${room} ${name}`, digest]))
  const there = new Map(names(found))
  const known = new Map(names(kept))
  return [...new Set([...known.keys(), ...there.keys()])].filter((name) => known.get(name) !== there.get(name))
}

if (process.argv.includes('--keep')) {
  writeFileSync(KEPT, `${JSON.stringify(bitsOf(process.execPath), null, 2)}\n`)
  console.log(`Wrote ${KEPT}.`)
}
const kept = JSON.parse(readFileSync(KEPT, 'utf8'))
let failed = false
for (const { node, version } of [{ node: process.execPath, version: process.version }, ...otherNodes()]) {
  const moved = differences(kept, bitsOf(node))
  if (moved.length > 0) failed = true
  console.log(
    moved.length === 0
      ? `The same bits in Node ${version}.`
      : `Node ${version} gives other bits than are kept: ${moved.join(', ')}. If results are meant to move: npm run bits -- --keep`,
  )
}
if (failed) process.exit(1)
