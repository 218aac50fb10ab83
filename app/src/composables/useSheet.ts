import { computed, ref, type ComputedRef, type Ref } from 'vue'

export interface Cell {
  row: number
  column: number
}

/** A rectangle of cells, ends included. */
export interface Block {
  top: number
  left: number
  bottom: number
  right: number
}

export interface Sheet {
  at: Ref<Cell>
  block: ComputedRef<Block>
  /** what is typed while a cell is edited; null when none is */
  typing: Ref<string | null>
  select: (cell: Cell, extend?: boolean) => void
  /** handles a key on the sheet; returns whether it was one of ours */
  key: (event: KeyboardEvent) => boolean
  commit: (move?: Cell) => void
  cancel: () => void
  begin: (text?: string) => void
}

/** Moves by key; those with Shift stretch the block. */
const MOVES: Record<string, Cell> = {
  ArrowUp: { row: -1, column: 0 },
  ArrowDown: { row: 1, column: 0 },
  ArrowLeft: { row: 0, column: -1 },
  ArrowRight: { row: 0, column: 1 },
  PageUp: { row: -12, column: 0 },
  PageDown: { row: 12, column: 0 },
}

/**
 * Selection and typing in a sheet of cells: arrows move, Shift stretches, typing or Enter edits, Enter and Tab go on, Esc
 * leaves a cell as it was, Delete empties the block.
 *
 * @param size rows and columns that there are
 * @param of what is there: the text of a cell, and what to do with what was typed
 */
export function useSheet(
  size: () => Cell,
  of: { text: (cell: Cell) => string; put: (cell: Cell, text: string) => boolean; empty: (block: Block) => void },
): Sheet {
  const at = ref<Cell>({ row: 0, column: 0 })
  const anchor = ref<Cell>({ row: 0, column: 0 })
  const typing = ref<string | null>(null)
  const block = computed<Block>(() => ({
    top: Math.min(at.value.row, anchor.value.row),
    bottom: Math.max(at.value.row, anchor.value.row),
    left: Math.min(at.value.column, anchor.value.column),
    right: Math.max(at.value.column, anchor.value.column),
  }))

  function within({ row, column }: Cell): Cell {
    const most = size()
    return { row: Math.max(0, Math.min(most.row - 1, row)), column: Math.max(0, Math.min(most.column - 1, column)) }
  }

  function select(cell: Cell, extend = false): void {
    at.value = within(cell)
    if (!extend) anchor.value = at.value
  }

  function begin(text?: string): void {
    typing.value = text ?? of.text(at.value)
  }

  /** What can not be taken stays as it was typed, with its complaint, until it is mended or left with Esc. */
  function commit(move: Cell = { row: 0, column: 0 }): void {
    if (typing.value === null) return
    if (typing.value !== of.text(at.value) && !of.put(at.value, typing.value)) return
    typing.value = null
    select({ row: at.value.row + move.row, column: at.value.column + move.column })
  }

  function cancel(): void {
    typing.value = null
  }

  function key(event: KeyboardEvent): boolean {
    if (typing.value !== null) return typingKey(event)
    const move = MOVES[event.key]
    if (move) select({ row: at.value.row + move.row, column: at.value.column + move.column }, event.shiftKey)
    else if (event.key === 'Home') select({ row: event.ctrlKey ? 0 : at.value.row, column: 0 }, event.shiftKey)
    else if (event.key === 'End') select({ row: event.ctrlKey ? Infinity : at.value.row, column: size().column - 1 }, event.shiftKey)
    else if (event.key === 'Enter' || event.key === 'F2') begin()
    else if (event.key === 'Delete' || event.key === 'Backspace') of.empty(block.value)
    else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey) begin(event.key)
    else return false
    return true
  }

  function typingKey(event: KeyboardEvent): boolean {
    if (event.key === 'Enter') commit({ row: event.shiftKey ? -1 : 1, column: 0 })
    else if (event.key === 'Tab') commit({ row: 0, column: event.shiftKey ? -1 : 1 })
    else if (event.key === 'Escape') cancel()
    else return false
    return true
  }

  return { at, block, typing, select, key, commit, cancel, begin }
}
