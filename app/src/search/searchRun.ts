import { countCandidates, needsLog, type Answer, type Plan, type RecommendProgress, type RequestLog } from '@sandclock/core'

/** Where searches run: large ones on the server, where there is one, unless the person says otherwise. */
export type SearchPlace = 'by size' | 'here' | 'server'

/** From so many options on a search is large. */
const LARGE = 5000
export const isLarge = (plan: Plan): boolean => countCandidates(plan) >= LARGE

type OnProgress = (progress: RecommendProgress) => void

/** A search on the server that one listens to. */
export interface ServerSearch {
  /** the answer; rejects with a sentence */
  answer: Promise<Answer>
  /** ends it there */
  end: () => void
}

/** What can search: this browser, and perhaps a server. */
export interface Searchers {
  here: { find: (plan: Plan, log: RequestLog | undefined, onProgress: OnProgress) => Promise<Answer>; giveUp: () => void }
  server: {
    /** of a search there; 0 where there is no server, or no room on it */
    threads: () => Promise<number>
    /** begins one there, or joins that of the same plan; undefined where no server takes it */
    begin: (planText: string, onProgress: OnProgress) => Promise<ServerSearch | undefined>
  }
}

/** What is searched for. */
export interface Question {
  plan: Plan
  /** the plan as a file */
  text: string
  log: RequestLog | undefined
  place: SearchPlace
}

/** What is told of a search while it runs. */
export interface SearchNews {
  progress: OnProgress
  /** threads of the server, once they are known */
  threads: (count: number) => void
  onServer: (isThere: boolean) => void
}

/** A search that runs. */
interface Running {
  /** ends it where it runs */
  stop: () => void
  /** resolves once nobody waits for it any more */
  gone: Promise<undefined>
  leave: () => void
}

function begun(): Running {
  let leave = () => undefined as void
  const gone = new Promise<undefined>((resolve) => (leave = () => resolve(undefined)))
  return { stop: () => undefined, gone, leave }
}

/** One search at a time: where it runs, what is heard of it, and its end. A new one ends the one before. */
export class SearchRun {
  private readonly searchers: Searchers
  private readonly news: SearchNews
  private current: Running | undefined

  constructor(searchers: Searchers, news: SearchNews) {
    this.searchers = searchers
    this.news = news
  }

  get isRunning(): boolean {
    return this.current !== undefined
  }

  /** Ends what runs; nothing is heard of it any more. */
  end(): void {
    this.current?.stop()
    this.current?.leave()
    this.current = undefined
  }

  /**
   * Finds the answer. What goes wrong on the server is done here.
   *
   * @returns the answer; undefined when the search was ended
   * @throws what the search of this browser throws, unless it was ended
   */
  async find(question: Question): Promise<Answer | undefined> {
    this.end()
    const mine = begun()
    this.current = mine
    const onProgress: OnProgress = (progress) => this.current === mine && this.news.progress(progress)
    try {
      const found = await Promise.race([this.found(question, mine, onProgress), mine.gone])
      return this.current === mine ? found : undefined
    } finally {
      if (this.current === mine) this.end()
    }
  }

  private async found(question: Question, mine: Running, onProgress: OnProgress): Promise<Answer | undefined> {
    return (await this.onServer(question, mine, onProgress)) ?? this.here(question, mine, onProgress)
  }

  private async onServer({ plan, text, place }: Question, mine: Running, onProgress: OnProgress): Promise<Answer | undefined> {
    const { server } = this.searchers
    void server.threads().then(this.news.threads)
    if (place === 'here' || needsLog(plan) || (place === 'by size' && !isLarge(plan))) return undefined
    // Also where it has no room for another: it may be at this one already.
    const there = await server.begin(text, onProgress)
    if (this.current !== mine) there?.end()
    if (!there || this.current !== mine) return undefined
    mine.stop = there.end
    this.news.onServer(true)
    const found = await there.answer.catch(() => undefined)
    if (found) mine.stop = () => undefined // it stays there for those who ask the same
    return found
  }

  private async here({ plan, log }: Question, mine: Running, onProgress: OnProgress): Promise<Answer | undefined> {
    if (this.current !== mine) return undefined
    this.news.onServer(false)
    mine.stop = () => this.searchers.here.giveUp()
    return this.searchers.here.find(plan, log, onProgress)
  }
}
