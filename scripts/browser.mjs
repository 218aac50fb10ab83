/** The browser that is driven: Debian's Chromium without its windows, which takes two thirds of the time of the one with them. */
export const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium-headless-shell'
