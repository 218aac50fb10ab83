import { classLine, moneyLine, serviceLine, trustLine, type Plan } from '@sandclock/core'
import { classColour } from '../../composables/classColour.ts'

/** What a class, and what a service, is told in. */
export const CLASS_PARTS = ['arrives', 'promised'] as const
export const SERVICE_PARTS = ['runs', 'starts', 'scales'] as const
export type ClassPart = (typeof CLASS_PARTS)[number]
export type ServicePart = (typeof SERVICE_PARTS)[number]

/** What of the sentence a view opens: it is what one changes there. The rest is a line each. */
export interface Opened {
  classes?: readonly ClassPart[]
  services?: readonly ServicePart[]
  money?: true
  trust?: true
}

/** How much of a passage is there: one line of key figures, what the view opens, or all of it. */
export type Fold = 'line' | 'part' | 'whole'

export interface Passage {
  /** by place, so that it is the same one under another name */
  id: string
  kind: keyof Opened
  /** among those of its kind */
  index: number
  name: string
  /** its key figures */
  line: string
  colour?: string
}

/** The passages of a plan in the order of its sentence. */
export function passagesOf(plan: Plan): Passage[] {
  return [
    ...plan.classes.map((c, index) => ({
      id: `class ${index}`,
      kind: 'classes' as const,
      index,
      name: c.name,
      line: classLine(plan, c),
      colour: classColour(index),
    })),
    ...plan.services.map((s, index) => ({ id: `service ${index}`, kind: 'services' as const, index, name: s.name, line: serviceLine(s) })),
    { id: 'money', kind: 'money', index: 0, name: 'Money', line: moneyLine(plan) },
    { id: 'trust', kind: 'trust', index: 0, name: 'Certainty', line: trustLine(plan) },
  ]
}

/** More than so many of a kind are not read in passing: a view then opens the first of them alone. */
const FEW = 4

/** How a passage stands where nobody has folded or opened it. */
export function foldAtFirst({ kind, index }: Passage, passages: readonly Passage[], opened: Opened): Fold {
  if (!opened[kind]) return 'line'
  return index === 0 || passages.filter((p) => p.kind === kind).length <= FEW ? 'part' : 'line'
}

/** The passage that a place of the plan is told in; empty where none is. @example passageAt(['classes', 1, 'targets', 0]) // 'class 1' */
export function passageAt([list, index]: readonly (string | number)[]): string {
  if (list === 'classes' || list === 'services') return index === undefined ? '' : `${list === 'classes' ? 'class' : 'service'} ${index}`
  if (list === 'fixedCosts' || list === 'budgetPerMonth' || list === 'prepaid' || list === 'expectedGrowthPerMonth') return 'money'
  return list === undefined || list === 'models' || list === 'machines' ? '' : 'trust'
}

/**
 * The way in the plan to what an element of the sentence is about: that of its field where it has one, else of its passage; undefined
 * outside of the passages.
 */
export function pathOfPassage(element: HTMLElement): (string | number)[] | undefined {
  const [, kind, index] = /^(class|service) (\d+)$/.exec(element.closest<HTMLElement>('[data-passage]')?.dataset.passage ?? '') ?? []
  if (kind === undefined) return undefined
  const field = element.closest<HTMLElement>('[data-field]')?.dataset.field ?? ''
  // Beyond the first list of the passage it is not said which entry.
  const [steps] = field
    .replaceAll(/\([^)]*\)/g, '')
    .replace(/^\.(classes|services)\[\]/, '')
    .split(/\[\]|\{\}/)
  return [kind === 'class' ? 'classes' : 'services', Number(index), ...steps.split('.').filter((s) => s !== '')]
}
