import { existsSync, readFileSync, rmSync } from 'node:fs'
import { installTestPrograms, installPackages, run, runTogether } from './setUp.mjs'

const took = []
let from = Date.now()
/** Notes how long a part took, so that one sees which has grown. */
function done(part) {
  took.push(`${part} ${Math.round((Date.now() - from) / 1000)} s`)
  from = Date.now()
}

const BROWSER = '.build/playwright.json'
const UNITS = '.build/vitest.json'
for (const result of [BROWSER, UNITS]) rmSync(result, { force: true })

/** Behind whoever measures by the clock: that is done in the browser's part, by a server that does nothing else. */
const behind = (...command) => ['sh', ['scripts/polite.sh', '10', ...command]]

installPackages()
installTestPrograms()
done('setting up')
run('node', ['scripts/build.mjs'])
done('build')
// All at once: each part waits now and then, for a page, a clock or another program, and the processors have work meanwhile. Types are
// checked in one go for all rooms: each by itself would check the core again.
const allWell = await runTogether([
  [['npx', ['playwright', 'test', '--reporter=list,json'], { PLAYWRIGHT_JSON_OUTPUT_NAME: BROWSER }]],
  [
    behind('npx', 'vue-tsc', '-p', '.'),
    behind('npx', 'eslint', '.', '--max-warnings', '0'),
    behind('node', 'scripts/bits.mjs'),
    behind('npx', 'vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${UNITS}`),
  ],
])
done('types, lint, bits, the interface in a browser and everything else')

// Both runners said what they did above; this adds them up.
const read = (result) => (existsSync(result) ? JSON.parse(readFileSync(result, 'utf8')) : undefined)
const browser = read(BROWSER)?.stats ?? { expected: 0, flaky: 0, unexpected: 0 }
const units = read(UNITS) ?? { numPassedTests: 0, numFailedTests: 0 }
console.log(
  `\n${browser.expected + browser.flaky + units.numPassedTests} passed, ${browser.unexpected + units.numFailedTests} failed; ${took.join(', ')}`,
)
if (!allWell) {
  console.log('Something above is not well.')
  process.exit(1)
}
