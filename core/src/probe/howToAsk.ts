import { LineCounter, parseDocument } from 'yaml'
import * as z from 'zod'
import { HOW_TO_ASK_FORMAT } from '../files/probeFormats.ts'
import { BadInput, shown, type Problem } from '../plan/problem.ts'
import { zodProblems } from '../plan/zodProblems.ts'
import { AnswerSchema, type HowAnswered } from './answerForm.ts'
import { PriceSchema } from './price.ts'
import { READY_MADE, WAYS_OF_ASKING } from './readyMade.ts'

export const HOW_TO_ASK_VERSION = 1

export const HowToAskSchema = z.strictObject({
  format: z.literal(HOW_TO_ASK_FORMAT),
  version: z.literal(HOW_TO_ASK_VERSION),
  name: z.string().min(1).optional().describe('what it is called'),
  url: z.url({ protocol: /^https?$/ }).describe('whom to ask'),
  method: z.enum(['POST', 'GET', 'PUT']).default('POST'),
  headers: z
    .record(z.string().regex(/^[!#$%&'*+.^_`|~0-9a-z-]+$/i), z.string())
    .default({})
    .describe('of each request; ${NAME} is the variable NAME of the environment, and is neither kept nor shown'),
  as: z.enum(WAYS_OF_ASKING).optional().describe('a ready-made way of asking: body and answer are its own where nothing else is said'),
  body: z
    .json()
    .optional()
    .describe(
      'JSON that is sent; "{prompt}", "{input}", "{output}" and "{number}" in it stand for the prompt, sizes in tokens, and the number of the request',
    ),
  answer: AnswerSchema.optional(),
  timeoutSeconds: z.number().positive().max(3600).default(120).describe('until a request that is not answered whole is given up'),
  price: PriceSchema.optional().describe('what it costs to ask, so that a bound on money can be kept'),
})

/** The format as a JSON Schema (draft 2020-12), exported to docs/how-to-ask.schema.json. */
export function howToAskJsonSchema(): object {
  return { ...z.toJSONSchema(HowToAskSchema, { io: 'input' }), title: `${HOW_TO_ASK_FORMAT}, version ${HOW_TO_ASK_VERSION}` }
}

type Stated = z.infer<typeof HowToAskSchema>
/** How an endpoint is asked, with everything said. */
export type HowToAsk = Omit<Stated, 'answer' | 'as'> & { answer: HowAnswered }

const TITLE = 'This does not say how to ask.'
/** Headers whose values are secrets by their nature. */
const SECRET = /^(authorization|proxy-authorization|cookie|(x-)?api-?key|.*(token|secret|password))$/i

/**
 * Reads how to ask: YAML, or JSON, with `format: sand-clock-how-to-ask`.
 *
 * @throws BadInput with every problem found, secrets that stand in it among them
 */
export function readHowToAsk(text: string): HowToAsk {
  const lines = new LineCounter()
  const document = parseDocument(text, { lineCounter: lines, logLevel: 'silent' })
  const [broken] = document.errors
  if (broken)
    throw new BadInput(TITLE, [
      { path: `line ${lines.linePos(broken.pos[0]).line}`, rule: `is not valid YAML (${broken.message.split('\n')[0]})` },
    ])
  const value: unknown = document.toJS()
  const parsed = HowToAskSchema.safeParse(value)
  if (!parsed.success) throw new BadInput(TITLE, zodProblems(parsed.error.issues, value))
  const how = complete(parsed.data)
  const problems = crossChecks(parsed.data, how)
  if (problems.length > 0) throw new BadInput(TITLE, problems)
  return how as HowToAsk
}

function complete({ as, ...stated }: Stated): Omit<HowToAsk, 'answer'> & { answer: HowAnswered | undefined } {
  const ready = as && READY_MADE[as]
  return { ...stated, body: stated.body ?? ready?.body, answer: stated.answer ?? ready?.answer }
}

function crossChecks(stated: Stated, { body, answer, method }: ReturnType<typeof complete>): Problem[] {
  const problems: Problem[] = []
  if (!answer)
    problems.push({
      path: 'answer',
      rule: `is missing; say how an answer comes, or which ready-made way it is with "as" (${WAYS_OF_ASKING.join(', ')})`,
    })
  if (answer?.tokens === 'usage' && answer.outputTokens === undefined)
    problems.push({ path: 'answer.outputTokens', rule: 'is missing; say where the usage is, or count tokens by pieces or words' })
  if (answer && answer.tokens !== 'usage' && answer.text === undefined)
    problems.push({ path: 'answer.text', rule: `is missing; say where the text is, since tokens are counted by ${answer.tokens}` })
  if (method === 'GET' && body !== undefined)
    problems.push({ path: 'body', rule: 'can not be sent with GET; take it out, or ask with POST' })
  const bare = Object.entries(stated.headers).find(([name, value]) => SECRET.test(name) && !/\$\{\w+\}/.test(value))
  if (bare)
    problems.push({
      path: `headers.${bare[0]}`,
      rule: 'must not hold a secret itself; put it into a variable of the environment and write ${NAME} here',
    })
  if (/^https?:\/\/[^/]*@/i.test(stated.url))
    problems.push({ path: 'url', rule: 'must not hold a name or a password; use a header with ${NAME}' })
  return problems
}

/**
 * Its headers, by their names in small letters, with what the environment has for them.
 *
 * @throws BadInput for a variable that is not there; its value is never in a sentence
 */
export function headersWith(
  how: Pick<HowToAsk, 'headers'>,
  environment: Readonly<Record<string, string | undefined>>,
): Record<string, string> {
  return Object.fromEntries(
    Object.entries(how.headers).map(([name, value]) => [
      name.toLowerCase(),
      value.replaceAll(/\$\{(\w+)\}/g, (_, variable: string) => {
        const found = environment[variable]
        if (found === undefined || found === '')
          throw new BadInput(TITLE, [
            {
              path: `headers.${name}`,
              rule: `names ${variable}, which the environment does not have; set it and begin again (the server of a page knows those alone that it was started with: --secret ${variable})`,
            },
          ])
        return found
      }),
    ]),
  )
}

/** A body with its places filled. @throws Error for what is no JSON, which the schema does not let in */
export function filledBody(body: unknown, places: Readonly<Record<'prompt' | 'input' | 'output' | 'number', string | number>>): unknown {
  if (typeof body === 'string') {
    const whole = /^\{(prompt|input|output|number)\}$/.exec(body)
    if (whole) return places[whole[1] as keyof typeof places]
    return body.replaceAll(/\{(prompt|input|output|number)\}/g, (_, place: keyof typeof places) => String(places[place]))
  }
  if (Array.isArray(body)) return body.map((b) => filledBody(b, places))
  if (typeof body === 'object' && body !== null) return Object.fromEntries(Object.entries(body).map(([k, v]) => [k, filledBody(v, places)]))
  if (body === undefined || typeof body === 'function') throw new Error(`${shown(body)} is no JSON`)
  return body
}
