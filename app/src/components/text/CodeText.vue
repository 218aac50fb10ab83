<script setup lang="ts">
import { autocompletion, completionKeymap } from '@codemirror/autocomplete'
import { json, jsonParseLinter } from '@codemirror/lang-json'
import { yaml } from '@codemirror/lang-yaml'
import { lintGutter, setDiagnostics, type Diagnostic } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { EditorView, keymap } from '@codemirror/view'
import { basicSetup } from 'codemirror'
import { sentence, type FirstFrom, type Problem } from '@sandclock/core'
import { useDebounceFn } from '@vueuse/core'
import { onBeforeUnmount, onMounted, shallowRef, useTemplateRef, watch } from 'vue'
import { completions, type Syntax } from '../../text/completion.ts'
import { LOOK } from '../../text/look.ts'
import { pathOf, type TextPath } from '../../text/path.ts'
import { pathAt, rangeOf } from '../../text/treePath.ts'

/** The plan as text: a code editor that knows the fields of a plan, and marks what the plan's reader complains of. */
const props = defineProps<{ text: string; syntax: Syntax; problems: readonly Problem[]; from: FirstFrom }>()
const emit = defineEmits<{ change: [text: string]; at: [path: TextPath] }>()

/** A plan is read so long after the last key. */
const PAUSE_MS = 300
const box = useTemplateRef('box')
const view = shallowRef<EditorView>()
/** what is put here from outside is not a change of the one who types */
let putting = false
/** whether something is typed that was not told yet */
let untold = false

function tell(): void {
  if (!untold || !view.value) return
  untold = false
  emit('change', view.value.state.doc.toString())
}
const tellChange = useDebounceFn(tell, PAUSE_MS)
const tellPlace = useDebounceFn(() => view.value && emit('at', pathAt(view.value.state, view.value.state.selection.main.head)), PAUSE_MS)

function diagnostics(editor: EditorView): Diagnostic[] {
  // Where a text is no JSON at all the parser knows the place, and the plan's reader does not.
  const broken = props.syntax === 'json' && props.problems.some((p) => p.path === '') ? jsonParseLinter()(editor) : []
  if (broken.length > 0) return broken
  return props.problems.map((problem) => {
    const range = rangeOf(editor.state, pathOf(problem.path))
    const line = /^line (\d+)$/.exec(problem.path)?.[1]
    const at = line ? editor.state.doc.line(Math.min(Number(line), editor.state.doc.lines)) : range
    return { from: at?.from ?? 0, to: at?.to ?? 0, severity: 'error', message: sentence(problem) }
  })
}

onMounted(() => {
  if (!box.value) return
  view.value = new EditorView({
    parent: box.value,
    state: EditorState.create({
      doc: props.text,
      extensions: [
        basicSetup,
        props.syntax === 'json' ? json() : yaml(),
        autocompletion({ override: [completions(props.syntax, () => props.from)] }),
        keymap.of(completionKeymap),
        lintGutter(),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': 'The plan as text', tabindex: '0' }),
        LOOK,
        EditorView.updateListener.of((update) => {
          if (update.docChanged && !putting) {
            untold = true
            void tellChange()
          }
          if (update.selectionSet && !putting && update.view.hasFocus) void tellPlace()
        }),
      ],
    }),
  })
})
onBeforeUnmount(() => {
  tell() // what was typed just before it was closed
  view.value?.destroy()
})

/** Exchanges what differs between its beginning and its end, so that the cursor and the place seen stay. */
function put(text: string): void {
  const editor = view.value
  const old = editor?.state.doc.toString()
  if (!editor || old === undefined || old === text) return
  const shorter = Math.min(old.length, text.length)
  let from = 0
  while (from < shorter && old[from] === text[from]) from++
  let end = 0
  while (end < shorter - from && old[old.length - 1 - end] === text[text.length - 1 - end]) end++
  putting = true
  editor.dispatch({ changes: { from, to: old.length - end, insert: text.slice(from, text.length - end) } })
  putting = false
}
watch(() => props.text, put)
watch(
  () => props.problems,
  () => view.value?.dispatch(setDiagnostics(view.value.state, diagnostics(view.value))),
  { flush: 'post' },
)

/** Shows what stands at a way, selected. */
function show(path: TextPath): void {
  const range = view.value && rangeOf(view.value.state, path)
  if (!view.value || !range) return
  const line = view.value.state.doc.lineAt(range.from)
  putting = true
  view.value.dispatch({
    selection: { anchor: range.from, head: Math.min(range.to, line.to) },
    effects: EditorView.scrollIntoView(range.from, { y: 'center' }),
  })
  putting = false
}
defineExpose({ show })
</script>

<template>
  <div ref="box" class="h-full overflow-hidden" />
</template>
