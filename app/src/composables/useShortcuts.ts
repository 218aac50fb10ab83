import { useEventListener } from '@vueuse/core'
import { VIEWS } from '../views.ts'

/** What a key does, and the key's name on the sheet. */
interface Shortcut {
  key: string
  does: string
}

/** What keys can do anywhere on the page. */
export interface Actions {
  goTo: (path: string) => unknown
  undo: () => unknown
  redo: () => unknown
  toggleTheme: () => unknown
  open: () => unknown
  save: () => unknown
  begin: () => unknown
  seek: () => unknown
  text: () => unknown
  showKeys: () => unknown
}

/** All that the keyboard can do, for the sheet of keys. */
export const KEYS: readonly Shortcut[] = [
  { key: `${VIEWS[0].key} to ${VIEWS[VIEWS.length - 1].key}`, does: `go to ${VIEWS.map((v) => v.name).join(', ')}` },
  { key: 'Ctrl+Z, Ctrl+Y', does: 'undo, redo an edit' },
  { key: 'Enter', does: 'on a figure: type another; Esc leaves it as it was' },
  { key: '↑ ↓', does: 'on a figure or a ring: a little more, a little less' },
  { key: '← →', does: 'move the cursor through time, or walk the frontier; with Ctrl farther, with Shift the time seen' },
  { key: '+ − 0', does: 'in the run: see less time, more time, all' },
  { key: 't', does: 'day or dusk' },
  { key: 'o, s', does: 'open a file, save the plan as a file' },
  { key: 'n', does: 'begin a new plan' },
  { key: '/', does: 'find something in the plan’s sentence; Enter goes to it, Esc leaves' },
  { key: 'x', does: 'the plan as text below its sentence; Ctrl+Space proposes, Tab leaves it' },
  { key: '?', does: 'this sheet' },
]

/** A list is typed into as well: letters go to what begins with them. */
const TYPED_INTO = 'input, select, textarea, [contenteditable], [role=listbox]'

/** Keys that work anywhere but where something is typed. */
export function useShortcuts(actions: Actions): void {
  const plain: Record<string, () => unknown> = {
    ...Object.fromEntries(VIEWS.map(({ key, path }) => [key, () => actions.goTo(path)])),
    '?': actions.showKeys,
    t: actions.toggleTheme,
    o: actions.open,
    s: actions.save,
    n: actions.begin,
    '/': actions.seek,
    x: actions.text,
  }
  useEventListener('keydown', (event: KeyboardEvent) => {
    // What has the focus may have its own use for a key.
    if (event.defaultPrevented || (event.target as HTMLElement).matches(TYPED_INTO)) return
    if (!event.ctrlKey && !event.metaKey) {
      const action = event.altKey ? undefined : plain[event.key]
      if (!action) return
      // A key that goes to a field is not typed into it.
      event.preventDefault()
      action()
      return
    }
    const key = event.key.toLowerCase()
    if (key !== 'z' && key !== 'y') return
    event.preventDefault()
    if (key === 'z' && !event.shiftKey) actions.undo()
    else actions.redo()
  })
}
