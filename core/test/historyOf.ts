import type { Plan } from '../src/plan/schema.ts'

const STEP = 300

/** What a monitoring server would have counted of a log: requests, tokens, and their seconds, at every step. */
export function historyOf(csv: string, { horizon, services }: Plan): string {
  const label = services[0].name
  const rows = csv
    .trim()
    .split('\n')
    .slice(1)
    .map((line) => line.split(','))
    .map(([at, input, output, took]) => ({ at: Date.parse(at) / 1000, input: Number(input), output: Number(output), took: Number(took) }))
  const start = Date.parse(horizon.start) / 1000
  const lines = Array.from({ length: horizon.seconds / STEP + 1 }, (_, k) => {
    const until = start + k * STEP
    const came = rows.filter((r) => r.at < until)
    const ended = rows.filter((r) => r.at + r.took < until)
    const total = (of: (r: (typeof rows)[number]) => number, list = came) => list.reduce((sum, r) => sum + of(r), 0)
    const own = `{service="${label}"}`
    return [
      `requests_total${own} ${came.length} ${until}`,
      `prompt_tokens_total${own} ${total((r) => r.input)} ${until}`,
      `answer_tokens_total${own} ${total((r) => r.output)} ${until}`,
      `duration_seconds_bucket{service="${label}",le="+Inf"} ${ended.length} ${until}`,
      `duration_seconds_count${own} ${ended.length} ${until}`,
      `duration_seconds_sum${own} ${total((r) => r.took, ended)} ${until}`,
    ]
  })
  const types = ['requests counter', 'prompt_tokens counter', 'answer_tokens counter', 'duration_seconds histogram']
  return `${types.map((t) => `# TYPE ${t}`).join('\n')}\n${lines.flat().join('\n')}\n# EOF\n`
}
