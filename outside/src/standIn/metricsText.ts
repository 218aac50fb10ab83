import type { StandIn } from './standIn.ts'

/** What it counted and how it stands, in the open text format for metrics. */
export function metricsText(standIn: StandIn): string {
  const { tally, service, time } = standIn
  const { ready, waiting, inService } = time.run.state
  const label = `{service="${service.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('\n', '\\n')}"`
  const line = (name: string, value: number, more = '') => `${name}${label}${more}} ${value}`
  const counter = (name: string, help: string, lines: string[]) => [`# TYPE ${name} counter`, `# HELP ${name} ${help}`, ...lines]
  const gauge = (name: string, help: string, value: number) => [`# TYPE ${name} gauge`, `# HELP ${name} ${help}`, line(name, value)]
  const sum = (name: string, help: string, total: number) => [
    `# TYPE ${name} summary`,
    `# HELP ${name} ${help}`,
    line(`${name}_count`, tally.answered),
    line(`${name}_sum`, total),
  ]
  return [
    ...counter('standin_requests', 'Requests that came.', [line('standin_requests_total', tally.arrivals)]),
    ...counter('standin_refused', 'Requests that were refused, by status.', [
      ...Object.entries(tally.refused).map(([status, n]) => line('standin_refused_total', n, `,status="${status}"`)),
      line('standin_refused_total', tally.failed, ',status="500"'),
    ]),
    ...counter('standin_input_tokens', 'Prompt tokens of answered requests.', [line('standin_input_tokens_total', tally.inputTokens)]),
    ...counter('standin_output_tokens', 'Answer tokens of answered requests.', [line('standin_output_tokens_total', tally.outputTokens)]),
    ...sum('standin_first_token_seconds', 'From a request to its first token, as the plan has it.', tally.firstTokenSeconds),
    ...sum('standin_latency_seconds', 'From a request to the end of its answer, as the plan has it.', tally.latencySeconds),
    ...gauge('standin_ready_replicas', 'Replicas that are ready.', ready),
    ...gauge('standin_waiting_requests', 'Requests that wait.', waiting),
    ...gauge('standin_in_service_requests', 'Requests in service.', inService),
    '# EOF',
    '',
  ].join('\n')
}
