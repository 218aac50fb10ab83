import type { Answer, RecommendProgress } from '@sandclock/core'
import { proxy } from 'comlink'
import { beginOnServer, endOnServer, serverThreads } from '../data/serverSearch.ts'
import { drawn } from '../composables/frames.ts'
import { helperCount, searchLead } from '../worker/workers.ts'
import { PieceReader, type Listener } from './pieces.ts'
import type { Searchers } from './searchRun.ts'

/** What another thread finds, told in pieces, as one answer. */
async function whole(onProgress: (p: RecommendProgress) => void, find: (listener: Listener) => Promise<Answer>): Promise<Answer> {
  const reader = new PieceReader()
  return reader.answer(await find(proxy(reader.listener(onProgress, drawn))))
}

/** The worker that leads searches in this browser, and the server that the page came from. */
export const searchers: Searchers = {
  here: {
    find: (plan, log, onProgress) => whole(onProgress, (listener) => searchLead().remote.recommend(plan, log, helperCount(), listener)),
    giveUp: () => void searchLead().remote.giveUp(),
  },
  server: {
    threads: serverThreads,
    begin: async (text, onProgress) => {
      const id = await beginOnServer(text)
      if (id === undefined) return undefined
      const end = () => {
        void searchLead().remote.leaveServer()
        endOnServer(id)
      }
      return { answer: whole(onProgress, (listener) => searchLead().remote.hearServer(id, listener)), end }
    },
  },
}
