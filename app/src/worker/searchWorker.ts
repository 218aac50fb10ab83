import {
  Crew,
  driveElsewhere,
  Errands,
  frontier,
  frontierOptions,
  GivenUp,
  Load,
  recommend,
  RequestShelf,
  writePlan,
  type Answer,
  type Errand,
  type FrontierPoint,
  type Helper,
  type Plan,
  type RequestLog,
  type Steps,
  type TrialOrder,
  type ServiceAnswer,
} from '@sandclock/core'
import { expose } from 'comlink'
import { keepAnswer } from '../data/database.ts'
import { hearServer } from '../data/serverSearch.ts'
import { PieceSender, type Listener } from '../search/pieces.ts'
import { HelperPool } from './helperPool.ts'
import { solver } from './solver.ts'

const pool = new HelperPool()
/** Runs of fewer requests than this are brief: to share them would be mostly helpers that load and learn to be quick, each for itself. */
const BRIEF_REQUESTS = 20_000
/** So long they are made here. */
const ALONE_MS = 1500
/** counts searches: an older one is given up when the next begins */
let latest = 0
/** the helpers of the search that runs */
let crew: Crew | undefined
const shelf = new RequestShelf()
/** the answer that was told last, until it is kept */
let found: Answer | undefined
/** the search on the server that is listened to */
let heard: ReturnType<typeof hearServer> | undefined

/**
 * Leads one search after the other: makes trials, brief ones by itself and others by its helpers, and tells the page how far it is. Ending
 * this worker ends the helpers.
 */
const search = {
  /**
   * Begins the search for a plan whose answer is known, until it has a first one, so that the next search finds the requests
   * drawn and whoever makes the trials practised. Not while another runs, and given up for any other.
   */
  async prepare(plan: Plan, helpers: number): Promise<void> {
    if (crew) return
    const mine = ++latest
    const load = sharedLoad(plan, undefined)
    let ready = false
    await led(
      recommend(plan, load),
      load,
      helpers,
      (p) => (ready = p.soFar.perHour !== null),
      () => ready || mine !== latest,
    ).catch((error: unknown) => {
      if (!(error instanceof GivenUp)) throw error
    })
  },
  /** Gives up what runs. */
  giveUp(): void {
    latest++
    void crew?.stop()
  },
  /** @returns the answer without what it passed over: that is told before, in pieces */
  async recommend(plan: Plan, log: RequestLog | undefined, helpers: number, listener: Listener): Promise<Answer> {
    const mine = ++latest
    const load = sharedLoad(plan, log)
    const sender = new PieceSender(listener)
    found = undefined
    const answer = await led(
      recommend(plan, load),
      load,
      helpers,
      (p) => mine === latest && sender.progress(p),
      () => mine !== latest,
      () => sender.seen,
    )
    if (mine === latest) found = answer
    return sender.answer(answer)
  },
  /** The same of a search that was begun on the server. */
  async hearServer(id: string, listener: Listener): Promise<Answer> {
    const sender = new PieceSender(listener)
    heard?.close()
    heard = hearServer(id, (p) => sender.progress(p))
    found = undefined
    const answer = await heard.answer
    found = answer
    return sender.answer(answer)
  },
  /**
   * Keeps the answer that was told last, as that to a plan: to write a large one would hold a page up.
   *
   * @returns whether it was that of this plan
   */
  async keep(planId: string, text: string): Promise<boolean> {
    const answer = found
    if (!answer || writePlan(answer.plan) !== text) return false
    found = undefined
    await keepAnswer({ planId, text }, answer)
    return true
  },
  /** Nothing is heard of it any more. */
  leaveServer(): void {
    heard?.close()
  },
  async frontier(
    plan: Plan,
    log: RequestLog | undefined,
    helpers: number,
    answer: ServiceAnswer,
    onPoints: (points: FrontierPoint[]) => void,
  ): Promise<FrontierPoint[]> {
    const mine = ++latest
    const service = plan.services.find((s) => s.name === answer.service)
    if (!service) return []
    const load = sharedLoad(plan, log)
    return led(
      frontier(plan, service, frontierOptions(answer)),
      load,
      helpers,
      (p) => mine === latest && onPoints(p),
      () => mine !== latest,
    )
  },
}

async function led<P, T>(
  steps: Steps<P, T>,
  load: Load,
  helpers: number,
  onProgress: (p: P) => void,
  isGivenUp: () => boolean,
  mayGoOn: () => Promise<unknown> = () => Promise.resolve(),
): Promise<T> {
  // Its helpers are free for the next one at once; what they are at they finish first.
  void crew?.stop()
  let alone = isBrief(load)
  const mates = new Crew(
    () => (alone ? ownHands(load.plan) : pool.borrow(load.plan)),
    alone ? 1 : helpers,
    load,
    async (problem) => (await solver())(problem),
  )
  crew = mates
  const more = setTimeout(() => {
    alone = false
    mates.growTo(helpers)
  }, ALONE_MS)
  try {
    const run = async (order: TrialOrder) => {
      await mayGoOn()
      return mates.run(order)
    }
    return await driveElsewhere(steps, { run, solve: mates.solve }, onProgress, isGivenUp)
  } finally {
    clearTimeout(more)
    await mates.stop()
    if (crew === mates) crew = undefined
  }
}

const { port1: told, port2: teller } = new MessageChannel()
const breathing: (() => void)[] = []
told.onmessage = () => breathing.shift()?.()
/** Lets in what this thread is told meanwhile: a timer would come later each time. */
const breath = () =>
  new Promise<void>((go) => {
    breathing.push(go)
    teller.postMessage(0)
  })

/** Makes trials in this thread. */
function ownHands(plan: Plan): Helper {
  const errands = new Errands(plan)
  const run = async (errand: Errand) => {
    await breath()
    return errands.run(errand)
  }
  return { run, end: () => undefined }
}

/** Those requests are drawn now that the search would draw first. */
const isBrief = (load: Load): boolean => load.plan.services.every((s) => load.of(s, 0).count < BRIEF_REQUESTS)

/** Requests in memory that all helpers read, where the page is isolated; elsewhere each gets a copy. */
function sharedLoad(plan: Plan, log: RequestLog | undefined): Load {
  return new Load(plan, log, self.crossOriginIsolated ? SharedArrayBuffer : ArrayBuffer, shelf)
}

export type SearchWorker = typeof search
expose(search)
