import {
  BadInput,
  leftOutWords,
  matchLog,
  needsLog,
  readPlan,
  readPlanYaml,
  readRequestLog,
  replaceLoad,
  sentence,
  textOf,
  type Plan,
  type RequestLog,
} from '@sandclock/core'
import { readFile } from 'node:fs/promises'
import { dirname, resolve } from 'node:path'
import { note } from './progress.ts'

export interface Input {
  plan: Plan
  log?: RequestLog
}

/** Reads a plan and the log that it names, or the one that replaces its load. Says on standard error what was left out. */
export async function readInput(planFile: string, requestsFile?: string): Promise<Input> {
  const plan = planFrom(await textFile(planFile), planFile)
  if (requestsFile !== undefined) {
    const replaced = replaceLoad(plan, await readLog(requestsFile))
    sayLeftOut(replaced.log, replaced)
    return { plan: replaced.plan, log: replaced.log }
  }
  if (!needsLog(plan)) return { plan }
  if (plan.log === undefined) {
    throw new BadInput('This plan needs a request log.', [
      { path: 'log', rule: 'is missing; name a file here or give one with --requests' },
    ])
  }
  const matched = matchLog(plan, await readLog(resolve(dirname(planFile), plan.log)))
  sayLeftOut(matched.log, { unknown: matched.unknown, absent: [] })
  return { plan, log: matched.log }
}

/** JSON or YAML, by the name of the file or else by how it begins. */
function planFrom(text: string, file: string): Plan {
  return /\.ya?ml$/i.test(file) || !/^\s*[{[]/.test(text) ? readPlanYaml(text) : readPlan(text)
}

async function readLog(file: string): Promise<RequestLog> {
  return readRequestLog(await textFile(file), file)
}

export async function textFile(file: string): Promise<string> {
  try {
    return textOf(await readFile(file), file, (bytes) => new TextDecoder().decode(bytes))
  } catch (error) {
    if (error instanceof BadInput) throw error
    const code = error instanceof Error && 'code' in error ? String(error.code) : String(error)
    const why = code === 'ENOENT' ? 'does not exist' : code === 'EISDIR' ? 'is a folder, not a file' : `can not be read (${code})`
    throw new BadInput(`${file} ${why}.`, [])
  }
}

function sayLeftOut(log: RequestLog, leftOut: Parameters<typeof leftOutWords>[0]): void {
  const mapped = Object.entries(log.headers).map(([field, header]) => `${field} from "${header}"`)
  note(`${log.name}: ${log.requests.count} requests; ${mapped.join(', ')}`)
  for (const words of leftOutWords(leftOut)) note(words)
  if (log.badRowCount === 0) return
  note(`${log.badRowCount} rows were left out:`)
  for (const bad of log.badRows.slice(0, 10))
    note(`  ${sentence({ path: `line ${bad.line}, ${bad.field}`, found: bad.found, rule: bad.rule })}`)
  if (log.badRowCount > 10) note(`  and ${log.badRowCount - 10} more`)
}
