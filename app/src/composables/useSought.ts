import { nextTick, onUnmounted, shallowRef, watch, type Ref } from 'vue'

/** The name that marks of what is sought have in the style sheet. */
const MARKS = 'sought'
/** What is not told apart where words are sought: spaces of any width. */
const plain = (text: string) => text.replaceAll(/[\u00a0\u202f]/g, ' ').toLowerCase()

/**
 * Which of some parts of the page have the words that are sought, in their text or in what their controls are called; those in the text
 * are marked.
 *
 * @param parts by id, those that are there
 * @param anew what may have changed the text of the parts
 * @returns the ids that have them; null while nothing is sought
 */
export function useSought(
  sought: Ref<string>,
  parts: () => Map<string, HTMLElement>,
  anew: () => unknown,
): Ref<ReadonlySet<string> | null> {
  const found = shallowRef<ReadonlySet<string> | null>(null)
  const highlights = globalThis.CSS?.highlights

  function look(): void {
    const words = plain(sought.value.trim())
    highlights?.delete(MARKS)
    if (words === '') return void (found.value = null)
    const has = (part: HTMLElement) =>
      plain(part.textContent).includes(words) ||
      [...part.querySelectorAll('[aria-label]')].some((e) => plain(e.getAttribute('aria-label') ?? '').includes(words))
    const having = [...parts()].filter(([, part]) => has(part))
    found.value = new Set(having.map(([id]) => id))
    highlights?.set(MARKS, new Highlight(...having.flatMap(([, part]) => rangesOf(part, words))))
  }

  watch([sought, anew], () => void nextTick(look), { flush: 'post' })
  onUnmounted(() => highlights?.delete(MARKS))
  return found
}

/** Where words stand within single pieces of text. */
function rangesOf(part: HTMLElement, words: string): Range[] {
  const ranges: Range[] = []
  const walker = document.createTreeWalker(part, NodeFilter.SHOW_TEXT)
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const text = plain(node.textContent ?? '')
    for (let at = text.indexOf(words); at >= 0; at = text.indexOf(words, at + words.length)) {
      const range = new Range()
      range.setStart(node, at)
      range.setEnd(node, at + words.length)
      ranges.push(range)
    }
  }
  return ranges
}
