import { ARRIVALS, METRICS, PROMPTS, PURCHASES, RESERVATIONS, ROUTINGS, SPLITS, WEIGHTS_FROM } from '@sandclock/core'

interface Choice {
  title: string
  /** where a plan states it, and where it says what to try beside; the second is empty where nothing is searched */
  field: string
  search: string
  table: Readonly<Record<string, { means: string; words?: string }>>
}

const CHOICES: readonly Choice[] = [
  { title: 'Arrivals', field: 'classes[].arrivals.kind', search: '', table: ARRIVALS },
  { title: 'Routing', field: 'services[].routing', search: 'routings', table: ROUTINGS },
  { title: 'Division of a replica over several machines', field: 'services[].split', search: 'splits', table: SPLITS },
  { title: 'Where weights come from', field: 'services[].start.weights.from', search: 'weightsFrom', table: WEIGHTS_FROM },
  { title: 'Prompts', field: 'services[].limits.prompts', search: 'prompts', table: PROMPTS },
  { title: 'Room in the cache', field: 'services[].limits.reservation', search: 'reservations', table: RESERVATIONS },
  { title: 'Ways of paying', field: 'services[].configuration.purchase', search: 'purchases', table: PURCHASES },
  { title: 'What a policy reads', field: 'services[].policies[].metrics[].metric', search: '', table: METRICS },
]

/** docs/ways.md: every choice that a plan has, from the very tables that schema, search and sentences are made of. */
export function waysPage(): string {
  return `# Choices

What a plan may choose between, and what each means; [model.md](model.md) has the exact rules. Made by \`npm run examples\` from the tables of the core.
${CHOICES.map(section).join('')}`
}

function section({ title, field, search, table }: Choice): string {
  const rows = Object.entries(table).map(([value, { words, means }]) => `| \`${value}\` | ${words ?? ''} | ${means} |\n`)
  return `
## ${title}

\`${field}\`${search ? `; tried beside it: \`search.${search}\`` : ''}.

| value | in words | what it is |
|---|---|---|
${rows.join('')}`
}
