import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import { bundleWhole } from './test/bundleWhole.ts'
import { LongFirst } from './test/longFirst.ts'

export default defineConfig({
  plugins: [vue(), bundleWhole()],
  test: {
    projects: [
      // The core has no state of its own: its tests share what they have loaded.
      { extends: true, test: { name: 'core', include: ['core/{src,test}/**/*.test.ts'], isolate: false } },
      // What is around it keeps things in browser storage, which each test empties for itself.
      {
        extends: true,
        test: {
          name: 'around it',
          isolate: false,
          include: ['{threads,outside,cli,server,app}/{src,test}/**/*.test.ts', 'test/**/*.test.ts'],
        },
      },
    ],
    // Generous, for machines that are shared: nothing here is about speed.
    // One less than there are would be one alone where there are two.
    maxWorkers: '100%',
    // What tests make and drop is swept in larger portions: 5 to 8 % of what they cost is sweeping.
    execArgv: ['--min-semi-space-size=32', '--max-semi-space-size=64'],
    server: { deps: { external: [/\/\.build\/tests\//] } },
    sequence: { sequencer: LongFirst },
    testTimeout: 300_000,
    hookTimeout: 60_000,
    expect: { poll: { timeout: 30_000 } },
  },
})
