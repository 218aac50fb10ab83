import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { EditorView } from '@codemirror/view'
import { tags } from '@lezer/highlight'

/** The editor in the colours of the page, by day and at dusk. */
export const LOOK = [
  EditorView.theme({
    '&': { height: '100%', fontSize: '12.5px', color: 'var(--ink)', backgroundColor: 'transparent' },
    '&.cm-focused': { outline: '2px solid var(--water)', outlineOffset: '-2px' },
    '.cm-content': { caretColor: 'var(--ink)' },
    '.cm-cursor': { borderLeftColor: 'var(--ink)' },
    '.cm-gutters': { color: 'var(--faded)', backgroundColor: 'var(--paper)', borderRight: '1px solid var(--rule)' },
    '.cm-activeLine, .cm-activeLineGutter': { backgroundColor: 'color-mix(in srgb, var(--sand-soft) 25%, transparent)' },
    '&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground': {
      backgroundColor: 'var(--sand-soft) !important',
    },
    '.cm-selectionMatch': { backgroundColor: 'color-mix(in srgb, var(--water-soft) 60%, transparent)' },
    '&.cm-focused .cm-matchingBracket': { backgroundColor: 'var(--water-soft)', outline: 'none' },
    '.cm-tooltip, .cm-panels': { color: 'var(--ink)', backgroundColor: 'var(--leaf)', border: '1px solid var(--rule)' },
    '.cm-tooltip-autocomplete ul li[aria-selected]': { color: 'var(--ink)', backgroundColor: 'var(--sand-soft)' },
    '.cm-diagnostic-error': { borderLeftColor: 'var(--rust)' },
    '.cm-lintRange-error': { backgroundImage: 'none', textDecoration: 'underline wavy var(--rust) 1px' },
    '.cm-foldPlaceholder': { color: 'var(--faded)', backgroundColor: 'var(--leaf)', borderColor: 'var(--rule)' },
  }),
  syntaxHighlighting(
    HighlightStyle.define([
      { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: 'var(--water)' },
      { tag: [tags.number, tags.bool, tags.null, tags.keyword], color: 'var(--sand)' },
      { tag: [tags.string, tags.content], color: 'var(--ink)' },
      { tag: tags.comment, color: 'var(--faded)', fontStyle: 'italic' },
      { tag: [tags.punctuation, tags.separator, tags.brace, tags.squareBracket], color: 'var(--faded)' },
    ]),
  ),
]
