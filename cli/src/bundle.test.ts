import { readFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { expect, it } from 'vitest'
import { sandclock } from '../test/sandclock.ts'

const DIST = join('cli', 'dist')

/** Bytes of a part of the bundle with all that it can not begin without. */
function bytesOf(name: string, seen = new Set<string>()): number {
  if (seen.has(name)) return 0
  seen.add(name)
  const text = readFileSync(join(DIST, name), 'utf8')
  const needed = [...text.matchAll(/^(?:import|\} from) ?(?:\{[^}]*\} from )?"\.\/([^"]+)";$/gm)].map((m) => basename(m[1]))
  return needed.reduce((sum, part) => sum + bytesOf(part, seen), text.length)
}

it('the command line begins without what only a command needs', () => {
  expect(sandclock('--help').status).toBe(0)
  const main = bytesOf('main.mjs')
  expect(main).toBeGreaterThan(50_000)
  expect(main).toBeLessThan(300_000)
  // The core is needed by a command that computes: what follows imports sees it.
  const one = /import\("\.\/(one-\w+\.mjs)"\)/.exec(readFileSync(join(DIST, 'main.mjs'), 'utf8'))?.[1]
  expect(bytesOf(one ?? '')).toBeGreaterThan(500_000)
})
