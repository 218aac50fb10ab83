import { json } from '@codemirror/lang-json'
import { yaml } from '@codemirror/lang-yaml'
import { CompletionContext } from '@codemirror/autocomplete'
import { ensureSyntaxTree } from '@codemirror/language'
import { EditorState } from '@codemirror/state'
import { writePlan, writePlanYaml } from '@sandclock/core'
import { parse } from 'yaml'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../data/demo.ts'
import { completions } from './completion.ts'
import { firstDifference, pathOf, type TextPath } from './path.ts'
import { pathAt, rangeOf } from './treePath.ts'

const short = { ...demoPlan, machines: demoPlan.machines.slice(0, 3), models: demoPlan.models.slice(0, 2) }
const texts = { json: writePlan(short), yaml: `# what it is about\n${writePlanYaml(short)}` }
const stateOf = (syntax: 'json' | 'yaml', doc = texts[syntax]) =>
  EditorState.create({ doc, extensions: [syntax === 'json' ? json() : yaml()] })

function everyPath(value: unknown, path: TextPath = []): TextPath[] {
  if (typeof value !== 'object' || value === null) return [path]
  return [path, ...Object.entries(value).flatMap(([k, v]) => everyPath(v, [...path, Array.isArray(value) ? Number(k) : k]))]
}
const valueAt = (path: TextPath) => path.reduce<unknown>((v, step) => (v as Record<string | number, unknown>)[step], short)

describe.each(['json', 'yaml'] as const)('a plan as %s', (syntax) => {
  const state = stateOf(syntax)
  ensureSyntaxTree(state, state.doc.length, 60_000) // however busy the machine is
  const paths = everyPath(short)

  it('every value of the plan has its place in the text, and each place the way to it', () => {
    expect(paths.length).toBeGreaterThan(500)
    for (const path of paths) {
      const range = rangeOf(state, path)
      expect(range?.whole, path.join('.')).toBe(true)
      if (!range || path.length === 0) continue
      const value = valueAt(path)
      if (typeof value !== 'object') {
        expect(parse(state.sliceDoc(range.from, range.to)), path.join('.')).toEqual(value)
        expect(pathAt(state, range.to), path.join('.')).toEqual(path)
      }
    }
  })

  it('a way that leads nowhere leads as far as it can', () => {
    const { from, to } = rangeOf(state, ['horizon'])!
    expect(rangeOf(state, ['horizon', 'nothing', 3])).toEqual({ from, to, whole: false })
    expect(rangeOf(state, pathOf('classes[0].targets[1].seconds'))?.whole).toBe(true)
  })
})

describe('what differs between two plans', () => {
  it('is found by its way, and where something is gone, what held it', () => {
    const changed = { ...short, classes: short.classes.map((c, i) => (i === 1 ? { ...c, priority: 4 } : c)) }
    expect(firstDifference(short, changed)).toEqual(['classes', 1, 'priority'])
    expect(firstDifference(changed, short)).toEqual(['classes', 1])
    expect(firstDifference(short, structuredClone(short))).toBeUndefined()
    expect(firstDifference(short, { ...short, classes: short.classes.slice(1) })?.[0]).toBe('classes')
  })
})

describe('what is proposed while one types', () => {
  const names = { start: '', namesFor: (key: string) => (key === 'model' ? ['Curlew 14B', 'Dunlin 3B'] : undefined) }
  const proposed = (syntax: 'json' | 'yaml', marked: string) => {
    const at = marked.indexOf('|')
    const state = stateOf(syntax, marked.replace('|', ''))
    return completions(syntax, () => names)(new CompletionContext(state, at, true))?.options.map((o) => o.label) ?? []
  }
  it('fields that are not there yet, in JSON and in YAML', () => {
    const inJson = proposed('json', '{"horizon": {"start": "x", |}}')
    expect(inJson).toContain('"warmupSeconds"')
    expect(inJson).not.toContain('"start"')
    const inYaml = proposed('yaml', 'horizon:\n  start: x\n  wa|\n')
    expect(inYaml).toContain('warmupSeconds')
    expect(inYaml).not.toContain('start')
    expect(proposed('yaml', 'seed: 1\nre|\n')).toContain('repetitions')
  })
  it('values of a choice, every form of what has several, names of the plan', () => {
    expect(proposed('json', '{"services": [{"routing": "|"}]}')).toEqual([
      '"least-busy"',
      '"round-robin"',
      '"two-choice"',
      '"shared-queue"',
    ])
    expect(proposed('yaml', 'services:\n  - name: a\n    routing: l|\n')).toContain('two-choice')
    expect(proposed('json', '{"classes": [{"arrivals": {"kind": "|"}}]}')).toEqual(
      expect.arrayContaining(['"steady"', '"weekly"', '"closed-loop"', '"hourly"', '"log"']),
    )
    expect(proposed('json', '{"services": [{"model": "|"}]}')).toEqual(['"Curlew 14B"', '"Dunlin 3B"'])
    expect(proposed('yaml', 'machines:\n  - startIsPaid: |\n')).toEqual(['true', 'false'])
  })
  it('fields of the form that the text says', () => {
    const fields = proposed('json', '{"classes": [{"arrivals": {"kind": "closed-loop", |}}]}')
    expect(fields).toContain('"clients"')
    expect(fields).not.toContain('"ratePerSecond"')
  })
})
