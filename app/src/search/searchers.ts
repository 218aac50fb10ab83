import { proxy } from 'comlink'
import { searchOnServer, serverThreads } from '../data/serverSearch.ts'
import { helperCount, searchLead } from '../worker/workers.ts'
import type { Searchers } from './searchRun.ts'

/** The worker that leads searches in this browser, and the server that the page came from. */
export const searchers: Searchers = {
  here: {
    find: (plan, log, onProgress) => searchLead().remote.recommend(plan, log, helperCount(), proxy(onProgress)),
    giveUp: () => void searchLead().remote.giveUp(),
  },
  server: { threads: serverThreads, begin: searchOnServer },
}
