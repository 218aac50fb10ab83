// Makes the guide a page of the application: docs/guide.md with its pictures, readable without Sand Clock's own program.
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { marked } from 'marked'

const STYLE = `
:root { color-scheme: light dark; --paper: #f7f0e3; --ink: #1f2d2f; --rule: #d8ccb4; --water: #0f4c5c; --sand: #8f5b08 }
@media (prefers-color-scheme: dark) { :root { --paper: #12201f; --ink: #efe6d3; --rule: #33504d; --water: #8cc4c9; --sand: #d9a94a } }
body { max-width: 46rem; margin: 2.5rem auto; padding: 0 1rem; background: var(--paper); color: var(--ink); font: 1.05rem/1.7 serif }
h1, h2 { font-weight: 500; line-height: 1.3 }
h2 { margin-top: 2.4rem }
a { color: var(--water) }
img { width: 100%; border: 1px solid var(--rule) }
code { font-size: 0.86em }
pre { overflow: auto; border-left: 3px solid var(--sand); padding-left: 0.8rem }
`

/** @param folder of the built application; the page is `guide.html` in it */
export function guide(folder) {
  const text = readFileSync('docs/guide.md', 'utf8')
  const pictures = join(folder, 'guide')
  mkdirSync(pictures, { recursive: true })
  const html = marked
    .parse(text)
    // Its own pictures lie beside it; further documents are files of the project, which the application does not have.
    .replaceAll(/src="(screenshots\/[^"]+)"/g, (_, path) => {
      copyFileSync(join('docs', path), join(pictures, basename(path)))
      return `src="guide/${basename(path)}"`
    })
    .replaceAll(/<a href="(?!https?:)([^"#]+\.md)[^"]*">(.*?)<\/a>/g, '$2 (docs/$1)')
  const title = /^# (.*)$/m.exec(text)?.[1] ?? 'Guide'
  writeFileSync(
    join(folder, 'guide.html'),
    `<!doctype html>\n<html lang="en">\n<head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${title}</title><style>${STYLE}</style></head>\n<body><p><a href="/">Sand Clock</a></p>\n${html}</body>\n</html>\n`,
  )
}
