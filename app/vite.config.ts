import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { defineConfig, type HtmlTagDescriptor, type Plugin } from 'vite'

/** What the first script takes in by turns is fetched at once with it, not when its turn comes. */
const atOnce = (): Plugin => ({
  name: 'at-once',
  transformIndexHtml: {
    order: 'post',
    handler(html, { bundle = {}, chunk: first }) {
      const [scripts, styles] = [new Set<string>(), new Set<string>()]
      const add = (file: string) => {
        const chunk = bundle[file]
        if (chunk?.type !== 'chunk' || scripts.has(file) || html.includes(file)) return
        scripts.add(file)
        chunk.viteMetadata?.importedCss.forEach((style) => html.includes(style) || styles.add(style))
        chunk.imports.forEach(add)
      }
      first?.dynamicImports.forEach(add)
      return [
        ...[...scripts].map((file) => link({ rel: 'modulepreload', crossorigin: true, href: `/${file}` })),
        ...[...styles].map((file) => link({ rel: 'stylesheet', crossorigin: true, href: `/${file}` })),
      ]
    },
  },
})

const link = (attrs: HtmlTagDescriptor['attrs'] & object): HtmlTagDescriptor => ({ tag: 'link', attrs, injectTo: 'head' })

export default defineConfig({
  plugins: [vue(), tailwindcss(), atOnce()],
  worker: { format: 'es' },
  build: { target: 'es2023', chunkSizeWarningLimit: 900 },
  server: { headers: { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' } },
})
