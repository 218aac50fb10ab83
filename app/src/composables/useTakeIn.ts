import { beginsLikeHistory, type FileKind } from '@sandclock/core'
import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'
import { useHistoryStore } from '../stores/historyStore.ts'
import { useIntakeStore } from '../stores/intakeStore.ts'
import { useLogStore } from '../stores/logStore.ts'
import { useMeasureStore } from '../stores/measureStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useFiles } from './useFiles.ts'
import { useGoTo } from './useGoTo.ts'

/** Larger files are logs; everything else that is taken in is far smaller. */
const MOST_TEXT_BYTES = 8_000_000

/** Plans come as JSON, or as YAML that says so. */
const isPlan = (text: string) => /^\s*[{[]/.test(text) || /^format:\s*["']?sand-clock-plan/m.test(text.slice(0, 2000))

/**
 * Takes in what is dropped, picked or pasted anywhere: catalogues, models and measurements, plans, and everything else as a log, of
 * which several that come together are one.
 *
 * @param isForBeginning whether the beginning of a plan, which is open, looks at a file of such a kind itself
 */
export function useTakeIn(isForBeginning: (kind: FileKind['kind']) => boolean = () => false): {
  dragging: Ref<boolean>
  takeFiles: (files: FileList | null) => Promise<void>
} {
  const [plans, logs, histories, intake] = [usePlanStore(), useLogStore(), useHistoryStore(), useIntakeStore()]
  const [measured, goTo] = [useMeasureStore(), useGoTo()]
  useEventListener('paste', (event: ClipboardEvent) => {
    const text = event.clipboardData?.getData('text') ?? ''
    if (!(event.target as HTMLElement).matches('input, textarea') && isPlan(text)) void plans.importText(text)
  })
  return useFiles(async (files) => {
    // What was wrong with the files before is not wrong with these.
    for (const store of [plans, logs, histories, intake, measured]) store.trouble = null
    const ofLog: File[] = []
    const ofHistory: File[] = []
    for (const file of files) {
      const small = await textOf(file)
      const kind = small === undefined ? await largeKind(file, intake.kindOf) : await intake.kindOf(file.name, small)
      // Measured requests are text however many they are.
      const text = kind === 'measured' ? await file.text() : small
      const stays = isForBeginning(kind)
      if (kind === 'history') ofHistory.push(file)
      else if (text === undefined || kind === 'log') ofLog.push(file)
      else if (kind === 'plan') await plans.importText(text, file.name)
      else if (kind === 'measured' || kind === 'how-to-ask') {
        if (kind === 'measured') await measured.read(file.name, text)
        else measured.order = { ...measured.order, how: text }
        await goTo('/measure')
      } else {
        await intake.read(file.name, text)
        if (!stays) await goTo(kind === 'starts' ? '/start' : kind === 'catalogue' ? '/fit/machines' : '/fit/models')
      }
    }
    if (ofLog.length + ofHistory.length > 0) await goTo('/load')
    if (ofHistory.length > 0) await histories.read(ofHistory.map((file) => ({ name: file.name, bytes: file })))
    if (ofLog.length === 0) return
    await logs.read(ofLog.map((file) => ({ name: file.name, bytes: file })))
  })
}

/** A large file is a log, unless it begins as a metrics history does, or as measured requests do. */
async function largeKind(file: File, kindOf: (name: string, text: string) => Promise<FileKind['kind']>): Promise<FileKind['kind']> {
  const head = await file.slice(0, 4000).text()
  if (beginsLikeHistory(head)) return 'history'
  return (await kindOf(file.name, head)) === 'measured' ? 'measured' : 'log'
}

/** The text of a file that is small and is one: what is packed is not. */
async function textOf(file: File): Promise<string | undefined> {
  if (file.size > MOST_TEXT_BYTES) return undefined
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(await file.arrayBuffer())
  } catch {
    return undefined
  }
}
