import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue()],
  test: {
    include: ['{core,threads,cli,server,app}/{src,test}/**/*.test.ts', 'test/**/*.test.ts'],
    // Generous, for machines that are shared: nothing here is about speed.
    // One less than there are would be one alone where there are two.
    maxWorkers: '100%',
    testTimeout: 300_000,
    hookTimeout: 60_000,
    expect: { poll: { timeout: 30_000 } },
  },
})
