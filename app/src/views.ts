import {
  busiestTogether,
  costParts,
  duration,
  isByTokens,
  isOneOff,
  missingWords,
  measureWords,
  price,
  startLine,
  startRulesOf,
  threeDigits,
  valueWords,
  verdict,
  type Answer,
  type ClassPicture,
  type FitRow,
  type Plan,
} from '@sandclock/core'
import type { Component } from 'vue'
import type { Opened } from './components/sentence/passages.ts'

/** What the way between the views can tell of a plan so far. */
export interface Known {
  plan: Plan
  answer: Answer | null
  /** rates that arrive, by class */
  load: readonly ClassPicture[]
  fits: Readonly<Record<string, FitRow[]>>
}

/** One view of the application: everything that the frame around the views needs of it. */
export interface View {
  /** its address, and the key that goes to it */
  path: string
  key: string
  name: string
  question: string
  /** its key figure, empty as long as there is none: going round them is reading a summary */
  figure: (known: Known) => string
  component: () => Promise<{ default: Component }>
  /** what of the plan's sentence is changed here, and is open beside it */
  opens: Opened
  /** what may follow in its address, as the router writes it */
  parts?: string
}

/** The views in the order of the way through them. */
export const VIEWS: readonly View[] = [
  {
    path: '/one',
    key: '0',
    name: 'One',
    question: 'How long does one request take?',
    figure: () => '',
    opens: { services: ['starts'] },
    component: () => import('./pages/OnePage.vue'),
    parts: '/:part(session|size)?',
  },
  {
    path: '/load',
    key: '1',
    name: 'Load',
    question: 'What arrives?',
    figure: mostArrives,
    opens: { classes: ['arrives', 'promised'] },
    component: () => import('./pages/LoadPage.vue'),
  },
  {
    path: '/fit',
    key: '2',
    name: 'Fit',
    question: 'What fits where?',
    figure: howManyFit,
    opens: { services: ['runs'] },
    component: () => import('./pages/FitPage.vue'),
    parts: '/:part(machines|models|tokens)?',
  },
  {
    path: '/start',
    key: '3',
    name: 'Start-up',
    question: 'What does the first caller endure?',
    figure: longestStart,
    opens: { services: ['starts'] },
    component: () => import('./pages/StartPage.vue'),
  },
  {
    path: '/measure',
    key: '4',
    name: 'Measure',
    question: 'What does it really take?',
    figure: howManyMeasured,
    opens: { services: ['runs'] },
    component: () => import('./pages/MeasurePage.vue'),
  },
  {
    path: '/run',
    key: '5',
    name: 'Run',
    question: 'How does it go?',
    figure: tightestPromise,
    opens: { services: ['scales'] },
    component: () => import('./pages/RunPage.vue'),
  },
  {
    path: '/answer',
    key: '6',
    name: 'Answer',
    question: 'What to rent?',
    figure: whatItCosts,
    opens: { classes: ['promised'], money: true, trust: true },
    component: () => import('./pages/AnswerPage.vue'),
  },
  {
    path: '/compare',
    key: '7',
    name: 'Compare',
    question: 'What differs?',
    figure: nextBest,
    opens: { classes: ['promised'], trust: true },
    component: () => import('./pages/ComparePage.vue'),
  },
]

/** Where one begins, and where unknown addresses lead. */
export const HOME = '/answer'

/** As the rates are stated; where a class states none, as it was drawn. */
function mostArrives({ plan, load }: Known): string {
  if (load.length === 0) return ''
  const stated = busiestTogether(plan)
  if (stated !== undefined) return `${threeDigits(stated)} /s when most come`
  return `${threeDigits(
    load[0].rates.reduce(
      (most, _, i) =>
        Math.max(
          most,
          load.reduce((sum, c) => sum + c.rates[i], 0),
        ),
      0,
    ),
  )} /s when most come`
}

function howManyFit({ fits }: Known): string {
  const rows = Object.values(fits).flat()
  return rows.length > 0 ? `${rows.filter((r) => r.reason === null).length} of ${rows.length} fit` : ''
}

/** The longest of the chosen configurations' start-ups from nothing. */
function longestStart({ plan, answer }: Known): string {
  const seconds = plan.services.flatMap((s) => {
    const chosen = answer?.services.find((a) => a.service === s.name)?.chosen
    if (chosen && isByTokens(chosen.purchase)) return []
    if (!s.start) return [s.startupSeconds ?? 0]
    const [model, machine] = [plan.models.find((m) => m.name === s.model), plan.machines.find((m) => m.name === chosen?.machine)]
    const variant = model?.variants.find((v) => v.name === chosen?.variant)
    return model && machine && variant ? [startLine(startRulesOf(s, model, variant, machine), 'nothing', 1, 0).readySeconds] : []
  })
  return seconds.length > 0 ? `${duration(Math.max(...seconds))} at most` : ''
}

/** Places whose step costs are measured. */
function howManyMeasured({ plan }: Known): string {
  const places = plan.models.flatMap((m) =>
    m.variants.flatMap((v) => [...(v.measurements ?? []), ...(v.profiles ?? []).filter((p) => p.measured)]),
  )
  return places.length === 0 ? 'nothing yet' : `${places.length} ${places.length === 1 ? 'place' : 'places'}`
}

function tightestPromise({ answer }: Known): string {
  const tightest = answer && verdict(answer).tightest
  return tightest ? `${measureWords(tightest.target)} ${valueWords(tightest.target, tightest.interval?.mean)}` : ''
}

function whatItCosts({ answer }: Known): string {
  if (!answer) return ''
  if (answer.meets) return `${costParts(answer.plan, answer.perHour).amount} ${isOneOff(answer.plan) ? 'once' : 'a month'}`
  return missingWords(answer)
}

/** What the next best of any service would cost more. */
function nextBest({ answer }: Known): string {
  const more = (answer?.services ?? []).flatMap((s) =>
    s.chosen && s.runnersUp[0] ? [s.runnersUp[0].money.perMonth - s.chosen.money.perMonth] : [],
  )
  return answer && more.length > 0 ? `next for +${price(Math.min(...more), answer.currency)}` : ''
}
