import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['{core,cli,server,app}/{src,test}/**/*.test.ts', 'test/**/*.test.ts'],
    testTimeout: 120_000,
  },
})
