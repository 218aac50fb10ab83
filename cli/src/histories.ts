import {
  beginsLikeHistory,
  guessRoles,
  isHistory,
  readHistory,
  ROLES,
  sentence,
  type BadInput,
  type Metric,
  type Role,
  type Roles,
} from '@sandclock/core'
import { open } from 'node:fs/promises'
import { textFile } from './input.ts'
import { note } from './progress.ts'

/** So much of a file tells what it is; a log may be large. */
const BEGINNING_BYTES = 4000

/** Files that are a metrics history; undefined for what is a log. */
export async function historyTexts(paths: readonly string[]): Promise<{ name: string; text: string }[] | undefined> {
  if (!(await Promise.all(paths.map(beginning))).every(beginsLikeHistory)) return undefined
  const files = await Promise.all(paths.map(async (name) => ({ name, text: await textFile(name) })))
  return files.every(({ text }) => isHistory(text)) ? files : undefined
}

/** The first characters of a file; empty for one that can not be read, of which its reader says why. */
async function beginning(path: string): Promise<string> {
  const file = await open(path).catch(() => undefined)
  if (!file) return ''
  try {
    const { bytesRead, buffer } = await file.read(Buffer.alloc(BEGINNING_BYTES), 0, BEGINNING_BYTES, 0)
    return buffer.subarray(0, bytesRead).toString('latin1')
  } catch {
    return '' // a folder
  } finally {
    await file.close()
  }
}

type Refuse = (option: string, rule: string, found?: string) => BadInput

/**
 * The metrics of a history, and what each is: as is said, else told by its name.
 *
 * @param said such as "arrivals=calls_total,input=prompt_tokens_total"
 * @throws BadInput for a name that is none of its metrics, or a part that a metric can not have
 */
export function metricsAndRoles(
  files: readonly { name: string; text: string }[],
  said: string | undefined,
  refuse: Refuse,
): { metrics: Metric[]; roles: Roles } {
  const { metrics, problems } = readHistory(files)
  for (const problem of problems) note(sentence(problem))
  const pairs = (said ?? '').split(',').filter(Boolean)
  const asSaid = pairs.map((pair): [Role, string] => {
    const [role, name = ''] = pair.split('=').map((part) => part.trim())
    if (!metrics.some((m) => m.name === name))
      throw refuse('--metrics', `must name metrics of this history: ${metrics.map((m) => m.name).join(', ')}`, pair)
    if (!(role in ROLES)) throw refuse('--metrics', `must be one of ${Object.keys(ROLES).join(', ')}`, role)
    return [role as Role, name] // as was just seen
  })
  return { metrics, roles: { ...guessRoles(metrics), ...Object.fromEntries(asSaid) } }
}
