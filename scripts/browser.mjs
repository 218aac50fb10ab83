import { fileURLToPath } from 'node:url'

/** The browser that is driven: Debian's Chromium without its windows, which takes two thirds of the time of the one with them. */
export const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium-headless-shell'

/** The same, behind whoever answers it. */
export const POLITE_BROWSER = fileURLToPath(new URL('politeBrowser.sh', import.meta.url))
