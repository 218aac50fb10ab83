// Brings node_modules to the state of the lock file. Only Node's own modules here: it runs before anything is installed.
import { createHash } from 'node:crypto'
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { CHROMIUM } from './browser.mjs'

const STAMP = join('node_modules', '.set-up')

/** Runs a command with its output on the screen; ends this process when it fails. */
export function run(command, args, env = {}) {
  const { status, error } = spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...env } })
  if (error) throw error
  if (status !== 0) process.exit(status ?? 1)
}

/** Runs chains of commands beside each other, with their output on the screen; ends this process when one fails. */
export async function runTogether(chains) {
  const follow = async (commands) => {
    for (const [command, args] of commands) {
      const status = await new Promise((resolve, reject) =>
        spawn(command, args, { stdio: 'inherit' }).on('error', reject).on('exit', resolve),
      )
      if (status !== 0) process.exit(status ?? 1)
    }
  }
  await Promise.all(chains.map(follow))
}

/** Installs the packages of the lock file unless that was done for this very lock file. */
export function installPackages() {
  const hash = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex')
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === hash) return
  console.log('Setting up: installing the packages of package-lock.json …')
  run('npm', ['ci', '--include=dev', '--no-audit', '--no-fund'])
  writeFileSync(STAMP, hash)
}

const PROMETHEUS = process.env.PROMETHEUS ?? '/usr/bin/prometheus'

/** What the tests drive for real: a browser, and a monitoring server. From Debian, where it is missing and this user may install it. */
export function installTestPrograms() {
  const missing = [
    { program: CHROMIUM, name: 'chromium-headless-shell', variable: 'CHROMIUM' },
    { program: PROMETHEUS, name: 'prometheus', variable: 'PROMETHEUS' },
  ].filter(({ program }) => !existsSync(program))
  if (missing.length === 0) return
  const names = missing.map(({ name }) => name)
  const install = ['install', '--no-install-recommends', '-y', ...names]
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) {
    console.error(`The tests drive a real browser and a real monitoring server; ${missing.map(({ program }) => program).join(' and ')} is missing. Install with
  sudo apt-get update && sudo apt-get ${install.join(' ')}
or name another in the environment variable ${missing.map(({ variable }) => variable).join(' or ')}, then run npm test again.`)
    process.exit(1)
  }
  console.log(`Setting up: installing ${names.join(' and ')} …`)
  run('apt-get', ['update', '-qq'])
  run('apt-get', install, { DEBIAN_FRONTEND: 'noninteractive' })
}
