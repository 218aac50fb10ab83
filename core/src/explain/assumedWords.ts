import { ASSUMED } from '../begin/assumed.ts'
import { likeOfSize } from '../begin/sizedModel.ts'
import { OPENINGS, type Figures } from '../begin/openings.ts'
import type { Plan } from '../plan/schema.ts'
import { PURCHASES, ROUTINGS } from '../plan/ways.ts'
import { bytes } from '../units/bytes.ts'
import { duration } from '../units/duration.ts'
import { percent, threeDigits } from '../units/number.ts'

/** One thing that a beginning did not ask for: where it stands in the plan, and what was taken. */
export interface AssumedWords {
  /** a path of the plan file */
  field: string
  words: string
}

/** What the plan of a beginning takes for granted, as it stands. */
export function assumedWords({ opening: name, own }: Figures, plan: Plan): AssumedWords[] {
  const { works, promises, least, inFlight } = OPENINGS[name]
  const { startUp, efficiency } = ASSUMED
  const search = plan.services[0].search
  const said: (AssumedWords | false)[] = [
    {
      field: 'horizon',
      words: `a week from ${ASSUMED.start.slice(0, 10)}, its first ${duration(ASSUMED.warmupSeconds)} not counted, drawn ${ASSUMED.repetitions} times`,
    },
    { field: 'classes[0].arrivals', words: 'callers come by pure chance around the rate of their hour' },
    works !== 'steps' && {
      field: works === 'tokens' ? 'classes[0].input' : 'classes[0].work',
      words: `95 of 100 sizes${works === 'tokens' ? ', of prompts and of answers,' : ''} stay below ${ASSUMED.p95OverMedian} times the middle one, none above ${ASSUMED.maxOverMedian} times it${works === 'tokens' ? ' or what the model takes' : ''}`,
    },
    {
      field: 'classes[0].targets',
      words: `promises are for ${ASSUMED.percentile} of 100 requests, and ${percent(ASSUMED.lostShare)} may be lost`,
    },
    promises === 'ttft' && {
      field: 'classes[0].targets[1]',
      words: `each further token comes within ${duration(ASSUMED.secondsPerToken)}`,
    },
    { field: 'seed', words: 'the draws are those of seed 1' },
    { field: 'margin', words: `${percent(ASSUMED.margin)} of every time that is promised stays free` },
    {
      field: 'services[0].start',
      words:
        `a machine comes in ${duration(startUp.machineSeconds ?? 0)}, 95 of 100 in ${duration(startUp.machineP95Seconds ?? 0)}, ` +
        `pulls an image of ${bytes(startUp.imageBytes)} at ${bytes(startUp.imageBytesPerSecond)}/s, fetches the weights from a store at ` +
        `${bytes(startUp.weights.bytesPerSecond)}/s (all together ${bytes(startUp.weights.totalBytesPerSecond ?? Infinity)}/s), loads them at ` +
        `${bytes(startUp.loadBytesPerSecond)}/s and warms up for ${duration(startUp.warmupSeconds)}; after ${duration(startUp.timeoutSeconds ?? 0)} it begins anew`,
    },
    { field: 'services[0].routing', words: ROUTINGS[plan.services[0].routing].words },
    {
      field: 'services[0].policies',
      words:
        `copies follow what is in flight, ${threeDigits(inFlight)} for each, ${least} to ${ASSUMED.mostCopies} of them, fewer only after ` +
        `${duration(ASSUMED.stabilisationSeconds)}${least === 0 ? `, none after ${duration(ASSUMED.idleSeconds)} without a request, whose first caller is held` : ''}; fixed numbers are tried beside`,
    },
    { field: 'services[0].limits.queue', words: `${ASSUMED.queue} requests may wait, more are refused` },
    {
      field: 'services[0].search',
      words: `tried are ${(search?.sequences ?? []).join(', ')} side by side on ${(search?.devices ?? []).join(', ')} devices, paid ${(search?.purchases ?? []).map((p) => PURCHASES[p].picked).join(' or ')}`,
    },
    {
      field: 'assumptions',
      words: `servers reach ${percent(efficiency.memoryEfficiency)} of the bandwidth and ${percent(efficiency.arithmeticEfficiency)} of the arithmetic, get ${percent(efficiency.memoryShare)} of the memory less ${bytes(efficiency.reserveBytesPerDevice)} a device, and take ${duration(efficiency.launchSeconds)} to launch a step`,
    },
    ...modelWords(own, plan),
  ]
  return said.filter((one): one is AssumedWords => one !== false)
}

/** What is taken for granted of the model: all of an invented one, and what a shape file or a speed leaves open. */
function modelWords(own: Figures['own'], { models: [model] }: Plan): AssumedWords[] {
  const field = 'models[0]'
  if (own === undefined)
    return [{ field, words: `${model.name} is an invented shape of its size: drop the shape file of your model in its place` }]
  if (own.from === 'speed')
    return [
      {
        field: `${field}.variants[0]`,
        words: 'a step with fewer side by side takes as long as a line between the two that were seen, however long prompts are',
      },
      { field: `${field}.kind`, words: 'as many fit into the memory as were seen side by side' },
    ]
  if (own.from === 'size')
    return [
      {
        field,
        words: `all but the size of ${model.name} is that of ${likeOfSize(own.model.parameters / 1e9)}, the invented shape nearest to it: drop the shape file of your model in its place`,
      },
    ]
  const working = 'activationBytes' in model ? (model.activationBytes ?? 0) : 0
  return [
    { field: `${field}.variants[0]`, words: 'its weights have 16 bits, and so has its cache; add other variants where models are' },
    { field: `${field}.activationBytes`, words: `it works in ${bytes(working)} beside weights and cache` },
  ]
}
