import { useEventListener } from '@vueuse/core'
import { ref, type Ref } from 'vue'

/**
 * Files that are dropped anywhere on the page or picked.
 *
 * @param take gets those that came together
 */
export function useFiles(take: (files: readonly File[]) => Promise<void>): {
  dragging: Ref<boolean>
  takeFiles: (files: FileList | null) => Promise<void>
} {
  const dragging = ref(false)

  const takeFiles = (files: FileList | null) => take([...(files ?? [])])

  useEventListener('dragover', (event: DragEvent) => {
    event.preventDefault()
    dragging.value = true
  })
  useEventListener('dragleave', (event: DragEvent) => {
    if (event.relatedTarget === null) dragging.value = false
  })
  useEventListener('drop', (event: DragEvent) => {
    event.preventDefault()
    dragging.value = false
    void takeFiles(event.dataTransfer?.files ?? null)
  })

  return { dragging, takeFiles }
}

const TYPES: Record<string, string> = { json: 'application/json', csv: 'text/csv', yaml: 'application/yaml' }

/** Saves text as a file of the browser. */
export function saveText(name: string, text: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: TYPES[name.split('.').at(-1) ?? ''] ?? 'text/plain' }))
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
