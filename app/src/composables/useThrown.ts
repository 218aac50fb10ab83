import { ref, type Ref } from 'vue'
import { fileName } from '../data/fileName.ts'
import type { StoredLog } from '../data/database.ts'
import { throwAway } from '../data/thrown.ts'
import { useLogStore } from '../stores/logStore.ts'
import { usePinStore } from '../stores/pinStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { saveText } from './useFiles.ts'

/** What was thrown away: shown, and had back to where it was. */
export function useThrown(): { open: Ref<boolean>; show: () => Promise<void>; haveBack: (id: string) => void } {
  const [plans, logs, pinned] = [usePlanStore(), useLogStore(), usePinStore()]
  const open = ref(false)
  return {
    open,
    show: async () => {
      await plans.refreshThrown()
      open.value = true
    },
    haveBack: (id) => {
      void plans.haveBack(id, async (found) => {
        if (found.kind === 'log') await logs.restore(found.data as StoredLog) // written by the log store
        else if (found.kind === 'pin') {
          const isThere = pinned.restore(found.data as Parameters<typeof pinned.restore>[0]) // written by the pin store
          if (!isThere) await throwAway(found.kind, found.name, found.data)
        }
        else {
          // What can not be read goes out as a file and stays.
          saveText(fileName(found.name), JSON.stringify(found.data, null, 2))
          await throwAway(found.kind, found.name, found.data)
        }
      })
      open.value = false
    },
  }
}
