import {
  BadInput,
  leftOutWords,
  logFiles,
  matchLog,
  needsLog,
  peekLog,
  placeOf,
  readPlan,
  readPlanYaml,
  readRequestLog,
  replaceLoad,
  sentence,
  textOf,
  TIME_UNITS,
  withColumns,
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

/** The log that an option names, which may be several files, and what its columns are if that is said. */
export interface LogOptions {
  requests?: string[]
  columns?: string
}

/** Reads a plan and the log that it names, or the one that replaces its load. Says on standard error what was left out. */
export async function readInput(planFile: string, { requests, columns }: LogOptions = {}): Promise<Input> {
  const plan = planFrom(await textFile(planFile), planFile)
  if (requests !== undefined) {
    const replaced = replaceLoad(plan, await readLog(requests, columns))
    sayLeftOut(replaced.log, replaced)
    return { plan: replaced.plan, log: replaced.log }
  }
  if (!needsLog(plan)) return { plan }
  if (plan.log === undefined) {
    throw new BadInput('This plan needs a request log.', [
      { path: 'log', rule: 'is missing; name a file here or give one with --requests' },
    ])
  }
  const matched = matchLog(
    plan,
    await readLog(
      logFiles(plan.log).map((file) => resolve(dirname(planFile), file)),
      columns,
    ),
  )
  sayLeftOut(matched.log, { unknown: matched.unknown, absent: [] })
  return { plan, log: matched.log }
}

/** JSON or YAML, by the name of the file or else by how it begins. */
function planFrom(text: string, file: string): Plan {
  return /\.ya?ml$/i.test(file) || !/^\s*[{[]/.test(text) ? readPlanYaml(text) : readPlan(text)
}

/** A request log of one or more files. */
export async function readLog(names: readonly string[], columns?: string): Promise<RequestLog> {
  const files = await Promise.all(names.map(async (name) => ({ name, bytes: await bytesOf(name) })))
  return readRequestLog(files, columns === undefined ? undefined : withColumns((await peekLog(files)).columns, columns))
}

export async function textFile(file: string): Promise<string> {
  return textOf(await bytesOf(file), file)
}

async function bytesOf(file: string): Promise<Uint8Array> {
  try {
    return await readFile(file)
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : String(error)
    const why = code === 'ENOENT' ? 'does not exist' : code === 'EISDIR' ? 'is a folder, not a file' : `can not be read (${code})`
    throw new BadInput(`${file} ${why}.`, [])
  }
}

function sayLeftOut(log: RequestLog, leftOut: Parameters<typeof leftOutWords>[0]): void {
  sayRead(log)
  for (const words of leftOutWords(leftOut)) note(words)
}

/** What was read of a log, and what was not. */
export function sayRead(log: RequestLog): void {
  const mapped = Object.entries(log.columns.names).map(([field, header]) => `${field} from "${header}"`)
  note(`${log.name}: ${log.requests.count} requests; ${mapped.join(', ')}; times in ${TIME_UNITS[log.columns.time].words}`)
  if (log.badRowCount === 0) return
  note(`${log.badRowCount} rows were left out:`)
  for (const bad of log.badRows.slice(0, 10)) note(`  ${sentence({ path: placeOf(bad), found: bad.found, rule: bad.rule })}`)
  if (log.badRowCount > 10) note(`  and ${log.badRowCount - 10} more`)
}
