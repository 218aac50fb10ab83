import { bytes, CORE_VERSION, duration, fitTable, Load, price, threeDigits, type FitRow, type Plan } from '@sandclock/core'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { readInput, type LogOptions } from '../input.ts'
import { table } from '../table.ts'

interface Options extends LogOptions {
  json?: boolean
}

export async function fitCommand(planFile: string, options: Options): Promise<ExitStatus> {
  const { plan, log } = await readInput(planFile, options)
  const load = new Load(plan, log)
  const services = plan.services.map((s) => ({ service: s.name, model: s.model ?? null, rows: fitTable(plan, s, load.of(s, 0)) }))
  if (options.json)
    process.stdout.write(`${JSON.stringify({ format: 'sand-clock-fit', version: 1, coreVersion: CORE_VERSION, services }, null, 2)}\n`)
  else
    for (const s of services) process.stdout.write(`${s.service.toUpperCase()}: ${s.model ?? 'own profile'}\n${fitText(plan, s.rows)}\n\n`)
  return services.every((s) => s.rows.length === 0 || s.rows.some((r) => r.reason === null)) ? MET : NOT_MET
}

function fitText(plan: Plan, rows: readonly FitRow[]): string {
  const header = [
    'machine',
    'variant',
    'devices',
    'price an hour',
    'weights',
    'cache',
    'fit side by side',
    'alone',
    'at full',
    'sustained a second',
    'step costs',
    'why not, and what would mend it',
  ]
  const notes = rows.flatMap((r) => r.notes.map((n) => `${r.machine}, ${r.variant}${r.devices > 1 ? `, ${r.devices} devices` : ''}: ${n}`))
  return [
    table(
      header,
      rows.map((r) => [
        r.machine,
        r.variant,
        String(r.devices),
        r.pricePerHour === null ? '–' : price(r.pricePerHour, plan.currency),
        r.memory ? bytes(r.memory.weightBytes) : '–',
        r.memory ? `${threeDigits(r.memory.cacheTokens)} tokens` : '–',
        ...speedCells(r),
        r.source ?? '–',
        r.reason === null
          ? ''
          : [r.reason, ...(r.remedies.length > 0 ? [`would fit: ${r.remedies.map((m) => m.words).join(', or ')}`] : [])].join('; '),
      ]),
    ),
    ...notes,
  ].join('\n')
}

function speedCells({ speed }: FitRow): string[] {
  if (!speed) return ['–', '–', '–', '–']
  if (speed.kind === 'batch')
    return [
      `${speed.batch} a batch`,
      duration(speed.aloneSeconds),
      duration(speed.fullBatchSeconds),
      `${threeDigits(speed.requestsPerSecond)} requests`,
    ]
  return [
    String(speed.sequencesThatFit),
    `${duration(speed.aloneSecondsPerToken)} a token`,
    `${duration(speed.fullSecondsPerToken)} a token`,
    `${threeDigits(speed.tokensPerSecond)} tokens`,
  ]
}
