import { installChromium, installPackages, run } from './setUp.mjs'

installPackages()
installChromium()
for (const workspace of ['core', 'cli', 'server']) run('npx', ['tsc', '-p', workspace])
run('npx', ['tsc', '-p', 'e2e'])
run('npx', ['vue-tsc', '-p', 'app'])
run('npx', ['eslint', '.', '--max-warnings', '0'])
run('node', ['scripts/build.mjs'])
run('npx', ['playwright', 'test'])
run('npx', ['vitest', 'run'])
