import { useEventListener } from '@vueuse/core'
import { ref, type Ref } from 'vue'

/** Larger files are not tried as text for a plan; a plan is far smaller. */
const MOST_PLAN_BYTES = 8_000_000

/**
 * Files that are dropped anywhere on the page or picked.
 *
 * @param take gets the name and bytes of each, and its text if it is small and not compressed
 */
export function useFiles(take: (name: string, bytes: Uint8Array, text: string | undefined) => Promise<void>): {
  dragging: Ref<boolean>
  takeFiles: (files: FileList | null) => Promise<void>
} {
  const dragging = ref(false)

  async function takeFiles(files: FileList | null): Promise<void> {
    for (const file of files ?? []) {
      const bytes = new Uint8Array(await file.arrayBuffer())
      const packed = bytes[0] === 0x1f && bytes[1] === 0x8b
      await take(file.name, bytes, packed || bytes.length > MOST_PLAN_BYTES ? undefined : new TextDecoder().decode(bytes))
    }
  }

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
