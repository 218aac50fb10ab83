import { ref, type Ref } from 'vue'
import type { StoredLog, StoredMeasurement, ThrownAway } from '../data/database.ts'
import { fileName } from '../data/fileName.ts'
import type { LostMeasurement } from '../edits/lostMeasurements.ts'
import { useLogStore } from '../stores/logStore.ts'
import { useMeasureStore } from '../stores/measureStore.ts'
import { usePinStore } from '../stores/pinStore.ts'
import { usePlanStore, type ThrownPlan } from '../stores/planStore.ts'
import { useThrownStore, type PutBack } from '../stores/thrownStore.ts'
import { saveText } from './useFiles.ts'

/** What was thrown away: shown, and had back to where it was. */
export function useThrown(): { open: Ref<boolean>; show: () => Promise<void>; haveBack: (id: string) => void } {
  const [plans, logs, pinned, thrown, measured] = [usePlanStore(), useLogStore(), usePinStore(), useThrownStore(), useMeasureStore()]
  const open = ref(false)
  // What each is was written by the store that it goes back to.
  const ways: Record<ThrownAway['kind'], PutBack> = {
    plan: (data) => plans.restore(data as ThrownPlan).then(() => true),
    measured: (data) => measured.restore(data as StoredMeasurement).then(() => true),
    measurement: async (data) => plans.restoreMeasurement(data as LostMeasurement),
    log: (data) => logs.restore(data as StoredLog).then(() => true),
    pin: async (data) => pinned.restore(data as Parameters<typeof pinned.restore>[0]),
    // It goes out as a file and stays.
    unreadable: async (data, name) => {
      saveText(fileName(name), JSON.stringify(data, null, 2))
      return false
    },
  }
  return {
    open,
    show: async () => {
      await thrown.refresh()
      open.value = true
    },
    haveBack: (id) => {
      void thrown.haveBack(id, ways)
      open.value = false
    },
  }
}
