import { readFileSync } from 'node:fs'
import { installTestPrograms, installPackages, run, runTogether } from './setUp.mjs'

const took = []
let from = Date.now()
/** Notes how long a part took, so that one sees which has grown. */
function done(part) {
  took.push(`${part} ${Math.round((Date.now() - from) / 1000)} s`)
  from = Date.now()
}

installPackages()
installTestPrograms()
done('setting up')
// Types are checked in one go for all rooms: each by itself would check the core again. Chained beside it is what takes as long.
await runTogether([
  [['npx', ['vue-tsc', '-p', '.']]],
  [
    ['npx', ['eslint', '.', '--max-warnings', '0']],
    ['node', ['scripts/bits.mjs']],
    ['node', ['scripts/build.mjs']],
  ],
])
done('lint, types, bits and build')
run('npx', ['playwright', 'test', '--reporter=list,json'], { PLAYWRIGHT_JSON_OUTPUT_NAME: '.build/playwright.json' })
done('the interface in a browser')
run('npx', ['vitest', 'run', '--reporter=default', '--reporter=json', '--outputFile.json=.build/vitest.json'])
done('everything else')

// Both runners said what they did above; this adds them up.
const browser = JSON.parse(readFileSync('.build/playwright.json', 'utf8')).stats
const units = JSON.parse(readFileSync('.build/vitest.json', 'utf8'))
console.log(
  `\n${browser.expected + browser.flaky + units.numPassedTests} passed, ${browser.unexpected + units.numFailedTests} failed; ${took.join(', ')}`,
)
