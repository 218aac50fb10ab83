import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { describe, expect, it } from 'vitest'

const ROOT = process.cwd()

/** The rooms of the core in the order in which data flows: a room may import from itself and from those before it. */
const FLOW = [
  'arithmetic',
  'units',
  'random',
  'plan',
  'files',
  'begin',
  'demand',
  'service',
  'world',
  'life',
  'scaling',
  'engine',
  'measure',
  'cost',
  'candidate',
  'run',
  'search',
  'loadtest',
  'explain',
  'answer',
  'one',
  'probe',
]
/** Each workspace and what it may import of the others. */
const MAY_IMPORT: Record<string, string[]> = {
  core: [],
  threads: ['core'],
  outside: ['core'],
  cli: ['core', 'threads', 'outside'],
  server: ['core', 'threads', 'outside'],
  app: ['core'],
}

interface Import {
  file: string
  from: string
}

function sources(folder: string): string[] {
  return readdirSync(join(ROOT, folder), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.(ts|vue)$/.test(entry.name) && !entry.parentPath.includes('node_modules'))
    .map((entry) => relative(ROOT, join(entry.parentPath, entry.name)))
}

const text = (file: string) => readFileSync(join(ROOT, file), 'utf8')
const FROM =
  /^(?:import|export)\b[^'"\n=]*\bfrom ['"]([^'"\n]+)['"]|^\} from ['"]([^'"\n]+)['"]|^import ['"]([^'"\n]+)['"]|\bimport\(['"]([^'"\n]+)['"]\)/gm
const imports = (file: string): Import[] =>
  [...text(file).matchAll(FROM)].map(([, ...from]) => ({ file, from: from.find((f) => f !== undefined) ?? '' }))
const isTest = (file: string) => file.includes('.test.')
const code = (file: string) => text(file).replace(/\/\*[\s\S]*?\*\/|\/\/.*$/gm, '')

describe('structure', () => {
  const core = sources('core/src').filter((f) => !isTest(f))

  it('finds the sources that it is to judge', () => {
    expect(core.length).toBeGreaterThan(50)
    expect(core.flatMap(imports).length).toBeGreaterThan(100)
  })

  it('in the app charts are the chart library’s; only the glass, the room of tokens and the lanes of replicas are drawn by hand', () => {
    const byHand = sources('app/src').filter(
      (f) => !isTest(f) && !f.startsWith('app/src/charts/') && /<svg|getContext\(|sharpPen\(/.test(code(f)),
    )
    expect(byHand.sort()).toEqual([
      'app/src/components/fit/RoomPicture.vue',
      'app/src/components/glass/Glass.vue',
      'app/src/components/run/LanePanel.vue',
      'app/src/components/run/lanePen.ts',
      'app/src/composables/sharpPen.ts',
    ])
    const around = sources('app/src').filter((f) => !isTest(f) && imports(f).some(({ from }) => from.startsWith('chart')))
    expect(around.filter((f) => !f.startsWith('app/src/charts/'))).toEqual([])
  })

  it('inside core imports go along the flow of data only', () => {
    const wrong = core.flatMap(imports).filter(({ file, from }) => {
      if (!from.startsWith('.')) return false
      const room = file.split('/')[2]
      const other = relative(join(ROOT, 'core/src'), resolve(ROOT, dirname(file), from)).split('/')[0]
      if (!FLOW.includes(room) || !FLOW.includes(other)) return room !== 'index.ts' && other !== 'version.ts'
      return FLOW.indexOf(other) > FLOW.indexOf(room)
    })
    expect(wrong).toEqual([])
  })

  it('inside core no file imports another that imports it', () => {
    const next = new Map(
      core.map((file) => [
        file,
        imports(file).flatMap(({ from }) => (from.startsWith('.') ? [relative(ROOT, resolve(ROOT, dirname(file), from))] : [])),
      ]),
    )
    const reaches = (from: string, to: string, seen: Set<string>): boolean =>
      (next.get(from) ?? []).some((n) => n === to || (!seen.has(n) && reaches(n, to, seen.add(n))))
    expect(core.filter((file) => reaches(file, file, new Set()))).toEqual([])
  })

  it('rules, step costs and fleets are put together in one module', () => {
    const putting = /\b(simulate|rulesFor|fleetOfRun)\(|new LivingFleet\(/
    const made = new Set(['core/src/engine/simulate.ts', 'core/src/run/rules.ts', 'core/src/run/fleet.ts', 'core/src/run/run.ts'])
    expect(core.filter((file) => putting.test(code(file))).sort()).toEqual([...made].sort())
    const around = ['cli/src', 'app/src', 'server/src', 'threads/src', 'outside/src'].flatMap(sources)
    expect(around.length).toBeGreaterThan(100)
    const asked = /\b(rulesFor|LivingFleet|livingFleetOf|profileOf|makeController)\b/
    expect(around.filter((file) => asked.test(code(file)))).toEqual([])
  })

  it('core imports nothing of Node, of the browser or of Vue', () => {
    const allowed = [
      'zod',
      'papaparse',
      'fflate',
      'fzstd',
      'hyparquet',
      'hyparquet-compressors',
      'yaml',
      'ml-fcnnls',
      'tinyqueue',
      'ml-matrix',
      '@stdlib/math-base-special-exp',
      '@stdlib/math-base-special-ln',
    ]
    const foreign = core.flatMap(imports).filter(({ from }) => !from.startsWith('.') && !allowed.includes(from))
    expect(foreign).toEqual([])
  })

  it('core reads no clock and draws no unnamed random number', () => {
    const forbidden = /Math\.random|Date\.now|new Date\(\)|performance\.now|setTimeout|setInterval|crypto\./
    expect(core.filter((file) => forbidden.test(code(file)))).toEqual([])
  })

  it('app, server and cli import core and what they share, and never each other', () => {
    const wrong = Object.entries(MAY_IMPORT).flatMap(([workspace, may]) =>
      sources(`${workspace}/src`)
        .filter((f) => !isTest(f))
        .flatMap(imports)
        .filter(({ from }) => {
          const named = /^@sandclock\/(\w+)/.exec(from)?.[1]
          const escapes = from.startsWith('../') && /\/(core|threads|outside|cli|server|app)\/src/.test(from)
          return escapes || (named !== undefined && !may.includes(named))
        }),
    )
    expect(wrong).toEqual([])
  })

  it('stores do no arithmetic of the job and components import no stores', () => {
    const components = sources('app/src/components').filter((f) => !isTest(f))
    expect(components.length).toBeGreaterThan(10)
    expect(components.flatMap(imports).filter(({ from }) => from.includes('/stores/') || from === 'pinia')).toEqual([])
  })

  it('the frame of the application only puts its parts together', () => {
    expect(text('app/src/App.vue').split('\n').length).toBeLessThan(80)
    // Views are in one table: nobody else knows their pages.
    const knows = sources('app/src').filter((f) => !isTest(f) && /pages\/\w+\.vue/.test(code(f)))
    expect(knows).toEqual(['app/src/views.ts'])
  })

  it('sections of the model notes that comments cite are there', () => {
    const sections = new Set([...text('docs/model.md').matchAll(/^## (\d+)\./gm)].map(([, n]) => n))
    const cited = ['core/src', 'core/test', 'app/src', 'cli/src', 'server/src']
      .flatMap(sources)
      .flatMap((file) => [...text(file).matchAll(/docs\/model\.md, (\d+)/g)].map(([, n]) => ({ file, n })))
    expect(cited.length).toBeGreaterThan(10)
    expect(cited.filter(({ n }) => !sections.has(n))).toEqual([])
  })

  it('only tests of the interface put another module in the place of one, and they run alone, as their names say', () => {
    const folders = Object.keys(MAY_IMPORT).flatMap((workspace) => [`${workspace}/src`, `${workspace}/test`])
    const tests = [...folders, 'test'].filter((folder) => existsSync(join(ROOT, folder))).flatMap(sources)
    const mocks = tests.filter((f) => /\bvi\.(doMock|mock)\(/.test(code(f)))
    expect(mocks.length).toBeGreaterThan(0)
    expect(mocks).toEqual(tests.filter((f) => f.endsWith('.alone.test.ts')))
    // The others are bundled, where nothing can be put in the place of a module: see test/bundleWhole.ts.
    expect(mocks.filter((f) => !f.startsWith('app/src/'))).toEqual([])
  })

  it('no component takes HTML as text', () => {
    expect(sources('app/src').filter((f) => f.endsWith('.vue') && text(f).includes('v-html'))).toEqual([])
  })
})
