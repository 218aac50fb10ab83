import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'
import { useRouter } from 'vue-router'
import { useIntakeStore } from '../stores/intakeStore.ts'
import { useLogStore } from '../stores/logStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useFiles } from './useFiles.ts'

/** Plans come as JSON, or as YAML that says so. */
const isPlan = (text: string) => /^\s*[{[]/.test(text) || /^format:\s*["']?sand-clock-plan/m.test(text.slice(0, 2000))

/** Takes in what is dropped, picked or pasted anywhere: catalogues, models and measurements, plans, and everything else as a log. */
export function useTakeIn(): { dragging: Ref<boolean>; takeFiles: (files: FileList | null) => Promise<void> } {
  const [plans, logs, intake, router] = [usePlanStore(), useLogStore(), useIntakeStore(), useRouter()]
  useEventListener('paste', (event: ClipboardEvent) => {
    const text = event.clipboardData?.getData('text') ?? ''
    if (!(event.target as HTMLElement).matches('input, textarea') && isPlan(text)) void plans.importText(text)
  })
  return useFiles(async (name, bytes, text) => {
    if (text !== undefined && (await intake.read(name, text)))
      await router.push(intake.intake?.kind === 'catalogue' ? '/fit/machines' : '/fit/models')
    else if (text !== undefined && isPlan(text)) await plans.importText(text)
    else {
      await router.push('/load')
      await logs.read(name, bytes)
    }
  })
}
