import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue()],
  test: {
    include: ['{core,cli,server,app}/{src,test}/**/*.test.ts', 'test/**/*.test.ts'],
    testTimeout: 120_000,
  },
})
