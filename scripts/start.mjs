import { installPackages, run } from './setUp.mjs'

installPackages()
run('node', ['scripts/build.mjs'])
run('node', ['.build/server.mjs', ...process.argv.slice(2)])
