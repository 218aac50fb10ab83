<script setup lang="ts">
import { MACHINE_COLUMNS, readCell, showCell, type Machine } from '@sandclock/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRowsInSight } from '../../composables/useRowsInSight.ts'
import { useSheet, type Block, type Cell } from '../../composables/useSheet.ts'

/**
 * The catalogue as a sheet of cells: typed as people type units, shown normalised. Blocks are copied to and pasted from
 * other sheets; a cell that can not be taken keeps what was typed and says what to type instead.
 */
const props = defineProps<{ machines: readonly Machine[] }>()
const emit = defineEmits<{
  change: [changes: { name: string; machine: Machine }[]]
  add: [after: string | undefined]
  remove: [names: string[]]
  refuse: [lines: string[]]
}>()

const complaint = ref('')
const scroller = useTemplateRef<HTMLElement>('scroller')
const field = useTemplateRef<HTMLInputElement[]>('field')

const text = ({ row, column }: Cell) => showCell(MACHINE_COLUMNS[column], props.machines[row])
const sheet = useSheet(() => ({ row: props.machines.length, column: MACHINE_COLUMNS.length }), {
  text: (cell) => text(cell).replaceAll(/[\u00a0\u202f]/g, ' '),
  put: (cell, typed) => {
    const changed = changedBy([{ cell, typed }])
    complaint.value = changed.complaints[0] ?? ''
    if (changed.complaints.length > 0) return false
    emit('change', changed.changes)
    return true
  },
  empty: (block) => take(cellsOf(block).map((cell) => ({ cell, typed: '' }))),
})
const { at, block, typing } = sheet
/** A catalogue may have a thousand. */
const [ROW, HEAD, BOX] = [28, 28, 430]
const { rows, measured, show } = useRowsInSight(scroller, {
  list: () => props.machines,
  key: (machine) => machine.name,
  tabStop: () => props.machines[at.value.row]?.name ?? '',
  rowPx: ROW,
  headPx: HEAD,
  boxPx: BOX,
})

function cellsOf({ top, left, bottom, right }: Block): Cell[] {
  const cells: Cell[] = []
  for (let row = top; row <= bottom; row++) for (let column = left; column <= right; column++) cells.push({ row, column })
  return cells
}

/** Machines with what was typed put into their cells, and what is wrong with the rest. */
function changedBy(typed: readonly { cell: Cell; typed: string }[]): {
  changes: { name: string; machine: Machine }[]
  complaints: string[]
} {
  const now = new Map<string, Machine>()
  const names = new Set(props.machines.map((m) => m.name))
  const complaints: string[] = []
  for (const { cell, typed: words } of typed) {
    const before = props.machines[cell.row]
    const column = MACHINE_COLUMNS[cell.column]
    const reading = readCell(column, words)
    const taken = column.key === 'name' && words.trim() !== before.name && names.has(words.trim())
    if ('complaint' in reading || taken)
      complaints.push(
        `${before.name}, ${column.head} “${words.slice(0, 30)}”: ${'complaint' in reading ? reading.complaint : 'another machine is called so.'}`,
      )
    else now.set(before.name, column.set(now.get(before.name) ?? before, reading.value))
  }
  return { changes: [...now].map(([name, machine]) => ({ name, machine })), complaints }
}

/** Takes the cells that can be taken, says what is wrong with the others. */
function take(typed: readonly { cell: Cell; typed: string }[]): void {
  const { changes, complaints } = changedBy(typed)
  if (changes.length > 0) emit('change', changes)
  if (complaints.length > 0) emit('refuse', complaints)
}

function copy(event: ClipboardEvent): void {
  if (typing.value !== null) return
  const { top, left, bottom, right } = block.value
  const rows = Array.from({ length: bottom - top + 1 }, (_, r) =>
    Array.from({ length: right - left + 1 }, (_, c) =>
      text({ row: top + r, column: left + c })
        .replaceAll(/\u00a0/g, ' ')
        .replaceAll('\u202f', ''),
    ).join('\t'),
  )
  event.clipboardData?.setData('text/plain', rows.join('\n'))
  event.preventDefault()
}

/** A block from the cell on that is looked at; one cell fills the whole selection. */
function paste(event: ClipboardEvent): void {
  if (typing.value !== null) return
  event.preventDefault()
  event.stopPropagation()
  const rows = (event.clipboardData?.getData('text') ?? '')
    .replace(/\r?\n$/, '')
    .split(/\r?\n/)
    .map((line) => line.split('\t'))
  const one = rows.length === 1 && rows[0].length === 1
  const { top, left } = block.value
  const cells = one
    ? cellsOf(block.value).map((cell) => ({ cell, typed: rows[0][0] }))
    : rows.flatMap((line, r) => line.map((typed, c) => ({ cell: { row: top + r, column: left + c }, typed })))
  const inside = cells.filter(({ cell }) => cell.row < props.machines.length && cell.column < MACHINE_COLUMNS.length)
  take(inside)
  if (inside.length < cells.length)
    emit('refuse', [`${cells.length - inside.length} cells lay beyond the sheet and were left out; add rows first.`])
}

async function onKey(event: KeyboardEvent): Promise<void> {
  if (!sheet.key(event)) return
  event.preventDefault()
  event.stopPropagation()
  if (typing.value === null) complaint.value = ''
  await nextTick()
  if (typing.value !== null) field.value?.[0]?.focus()
  else if (!event.defaultPrevented || document.activeElement?.tagName !== 'TD') focusCell()
}

const focusCell = () => scroller.value?.querySelector<HTMLElement>('td[tabindex="0"]')?.focus()

async function edit(cell: Cell): Promise<void> {
  sheet.select(cell)
  sheet.begin()
  await nextTick()
  field.value?.[0]?.focus()
}

watch(at, async ({ row, column }) => {
  const box = scroller.value
  if (!box) return
  show(row)
  await nextTick()
  const cell = box.querySelector<HTMLElement>(`[data-cell="${row} ${column}"]`)
  if (cell && column > 0) {
    const sticky = 170
    if (cell.offsetLeft - sticky < box.scrollLeft) box.scrollLeft = cell.offsetLeft - sticky
    else if (cell.offsetLeft + cell.offsetWidth > box.scrollLeft + box.clientWidth)
      box.scrollLeft = cell.offsetLeft + cell.offsetWidth - box.clientWidth + 8
  }
  if (box.contains(document.activeElement) && typing.value === null) cell?.focus({ preventScroll: true })
})

const inBlock = (row: number, column: number) =>
  row >= block.value.top && row <= block.value.bottom && column >= block.value.left && column <= block.value.right
const selectedNames = computed(() => props.machines.slice(block.value.top, block.value.bottom + 1).map((m) => m.name))
const here = computed(() => MACHINE_COLUMNS[at.value.column])
</script>

<template>
  <div>
    <p class="mb-1 flex flex-wrap items-baseline gap-x-4 text-[0.84rem]">
      <span aria-live="polite"
        ><strong>{{ machines[at.row]?.name }}, {{ here.head }}</strong
        >: {{ here.means }}<span v-if="here.needed" class="text-faded">; needed</span></span
      >
      <span class="ml-auto whitespace-nowrap"
        ><button type="button" class="word" @click="emit('add', machines[at.row]?.name)">one more like this</button>{{ ' '
        }}<button type="button" class="word" :disabled="machines.length === 0" @click="emit('remove', selectedNames)"
          >take {{ selectedNames.length === 1 ? 'it' : `${selectedNames.length} rows` }} out</button
        ></span
      >
    </p>
    <p v-if="complaint" role="alert" class="mb-1 text-[0.86rem] text-rust"> {{ complaint }} Esc leaves the cell as it was.</p>
    <div ref="scroller" class="sheet" :style="{ maxHeight: `${BOX}px` }" @keydown="onKey" @copy="copy" @paste="paste">
      <table
        role="grid"
        aria-label="Catalogue of machines"
        :aria-rowcount="machines.length + 1"
        :aria-colcount="MACHINE_COLUMNS.length"
        aria-multiselectable="true">
        <thead>
          <tr aria-rowindex="1">
            <th
              v-for="c in MACHINE_COLUMNS"
              :key="c.key"
              scope="col"
              :title="c.means"
              :class="c.kind === 'text' ? 'text-left' : 'text-right'">
              {{ c.head }}
            </th>
          </tr>
        </thead>
        <tbody>
          <template v-for="{ row: machine, index: row, before } in rows" :key="machine.name">
            <tr v-if="before > 0" aria-hidden="true" :style="{ height: `${before}px` }" />
            <tr :ref="measured" :data-index="row" :aria-rowindex="row + 2">
              <td
                v-for="(c, column) in MACHINE_COLUMNS"
                :key="c.key"
                role="gridcell"
                :data-cell="`${row} ${column}`"
                :tabindex="row === at.row && column === at.column ? 0 : -1"
                :aria-selected="inBlock(row, column)"
                :aria-colindex="column + 1"
                :class="[
                  c.kind === 'text' ? 'text-left' : 'text-right',
                  inBlock(row, column) ? 'taken' : '',
                  row === at.row && column === at.column ? 'here' : '',
                ]"
                @mousedown="sheet.select({ row, column }, $event.shiftKey)"
                @dblclick="edit({ row, column })">
                <input
                  v-if="typing !== null && row === at.row && column === at.column"
                  ref="field"
                  v-model="typing"
                  type="text"
                  class="w-full bg-leaf text-inherit"
                  :aria-label="`${machine.name}, ${c.head}`"
                  :aria-invalid="complaint !== ''"
                  @blur="sheet.commit()"
                  @mousedown.stop
                  @copy.stop
                  @paste.stop />
                <template v-else>{{ showCell(c, machine) }}</template>
              </td>
            </tr>
          </template>
          <tr v-if="(rows.at(-1)?.below ?? 0) > 0" aria-hidden="true" :style="{ height: `${rows.at(-1)?.below}px` }" />
        </tbody>
      </table>
    </div>
    <p class="mt-1 text-[0.82rem] text-faded"
      >Type to change a cell, Enter goes down and Tab right, Esc leaves it as it was; Shift with arrows marks a block, Delete empties it.
      Copy and paste work with any sheet: 48 GiB, 2 TB/s, 200 Gbit/s, 1.30 /h, 90 s are all understood.</p
    >
  </div>
</template>

<style scoped>
.sheet {
  overflow: auto;
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
}
table {
  border-collapse: separate;
  border-spacing: 0;
  font-size: 0.84rem;
}
th {
  position: sticky;
  top: 0;
  z-index: 2;
  padding: 3px 8px;
  font-weight: 500;
  color: var(--faded);
  background: var(--paper);
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
}
td {
  height: 28px;
  padding: 2px 8px;
  white-space: nowrap;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
  cursor: cell;
}
th:first-child,
td:first-child {
  position: sticky;
  left: 0;
  z-index: 1;
  min-width: 160px;
  background: var(--paper);
  border-right: 1px solid var(--rule);
}
th:first-child {
  z-index: 3;
}
td.taken {
  background: color-mix(in srgb, var(--sand-soft) 45%, var(--paper));
}
td.here {
  outline: 2px solid var(--sand);
  outline-offset: -2px;
  min-width: 8rem;
}
input {
  min-width: 7rem;
  border: 0;
  text-align: inherit;
  font: inherit;
}
</style>
