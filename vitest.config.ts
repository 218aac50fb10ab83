import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import { bundleWhole } from './test/bundleWhole.ts'
import { LongFirst } from './test/longFirst.ts'

const ALONE = 'app/src/**/*.alone.test.ts'

export default defineConfig({
  plugins: [vue(), bundleWhole()],
  test: {
    projects: [
      {
        extends: true,
        test: {
          name: 'together',
          include: ['{core,threads,outside,cli,server,app}/{src,test}/**/*.test.ts', 'test/**/*.test.ts'],
          exclude: [ALONE],
          // What a test keeps in browser storage it empties for itself; the core has no state. So all share what they have loaded.
          isolate: false,
        },
      },
      // A module that one of these puts another in the place of would stay so for all that share it, or be loaded already.
      { extends: true, test: { name: 'alone', include: [ALONE] } },
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
