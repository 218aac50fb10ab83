import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'

/** What the first script takes in by turns is fetched at once with it, not when its turn comes. */
const atOnce = (): Plugin => ({
  name: 'at-once',
  transformIndexHtml: {
    order: 'post',
    handler(html, { bundle = {}, chunk: first }) {
      const scripts = new Set<string>()
      const add = (file: string) => {
        const chunk = bundle[file]
        if (chunk?.type !== 'chunk' || scripts.has(file) || html.includes(file)) return
        scripts.add(file)
        chunk.imports.forEach(add)
      }
      first?.dynamicImports.forEach(add)
      return [...scripts].map((file) => ({
        tag: 'link',
        attrs: { rel: 'modulepreload', crossorigin: true, href: `/${file}` },
        injectTo: 'head',
      }))
    },
  },
})

export default defineConfig({
  plugins: [vue(), tailwindcss(), atOnce()],
  worker: { format: 'es' },
  build: {
    target: 'es2023',
    chunkSizeWarningLimit: 900,
    // All styles are one small file: what each view adds to it would be asked for by itself.
    cssCodeSplit: false,
  },
  server: { headers: { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' } },
})
