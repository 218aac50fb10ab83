import { ensureSyntaxTree } from '@codemirror/language'
import type { EditorState } from '@codemirror/state'
import type { SyntaxNode } from '@lezer/common'
import type { TextPath } from './path.ts'

/** What the trees of JSON and of YAML call the same things. */
const PAIRS = new Set(['Property', 'Pair'])
const KEYS = new Set(['PropertyName', 'Key'])
const MAPS = new Set(['Object', 'BlockMapping', 'FlowMapping'])
const LISTS = new Set(['Array', 'BlockSequence', 'FlowSequence'])
/** The tree of a text of a hundred kilobytes is there in a tenth of it. */
const MOST_MS = 200

const treeOf = (state: EditorState) => ensureSyntaxTree(state, state.doc.length, MOST_MS)?.topNode ?? null
const isNamed = (node: SyntaxNode) => /^[A-Z]/.test(node.name) && node.name !== 'Comment'
const unquoted = (text: string) => text.trim().replace(/^(["'])(.*)\1$/, '$2')

function childrenOf(node: SyntaxNode): SyntaxNode[] {
  const found: SyntaxNode[] = []
  for (let child = node.firstChild; child; child = child.nextSibling) if (isNamed(child)) found.push(child)
  return found
}

function keyOf(pair: SyntaxNode, state: EditorState): string | undefined {
  const key = childrenOf(pair).find((c) => KEYS.has(c.name))
  return key && unquoted(state.sliceDoc(key.from, key.to))
}

/** The way to what stands at a place of the text; that of the file at its top. */
export function pathAt(state: EditorState, at: number): TextPath {
  const path: (string | number)[] = []
  const tree = treeOf(state)
  for (let node: SyntaxNode | null = tree?.resolveInner(at, -1) ?? null; node; node = node.parent) {
    if (PAIRS.has(node.name)) {
      const key = keyOf(node, state)
      if (key !== undefined) path.unshift(key)
    }
    if (node.parent && LISTS.has(node.parent.name) && isNamed(node)) {
      const { from } = node
      path.unshift(childrenOf(node.parent).findIndex((c) => c.from === from))
    }
  }
  return path
}

/** A map, a list or a plain value within what holds it. */
function contentOf(node: SyntaxNode): SyntaxNode {
  if (MAPS.has(node.name) || LISTS.has(node.name)) return node
  const inner = childrenOf(node).filter((c) => !KEYS.has(c.name))
  return inner.length > 0 ? contentOf(inner[inner.length - 1]) : node
}

/** Where the value at the end of a way stands, or as far as it leads; null for an empty text. */
export function rangeOf(state: EditorState, path: TextPath): { from: number; to: number; whole: boolean } | null {
  const top = treeOf(state)
  if (!top) return null
  let node = contentOf(top)
  for (const step of path) {
    const next =
      typeof step === 'number'
        ? LISTS.has(node.name)
          ? childrenOf(node)[step]
          : undefined
        : MAPS.has(node.name)
          ? childrenOf(node).find((c) => PAIRS.has(c.name) && keyOf(c, state) === step)
          : undefined
    if (!next) return { from: node.from, to: node.to, whole: false }
    node = contentOf(next)
  }
  return { from: node.from, to: node.to, whole: true }
}
