import { AxeBuilder } from '@axe-core/playwright'
import type { Page } from '@playwright/test'

const WCAG = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']

export interface Looked {
  /** a selector of the part that is looked at; the whole page if left out */
  within?: string | undefined
  /** those of the standard, contrast alone for who has looked at all else before (a theme changes nothing else), or what is advised too */
  rules?: 'standard' | 'contrast' | 'advised'
}

/** What of a page is not accessible, each with where it is. */
export async function violationsOf(page: Page, { within, rules = 'standard' }: Looked = {}): Promise<string[]> {
  // Without frames in the page, the one call that names only what is wrong: naming every element takes most of the time.
  const axe = new AxeBuilder({ page: page as never /* the package brings its own copy of the same types */ })
    .options({ resultTypes: ['violations'] })
    .setLegacyMode()
  if (within) axe.include(within)
  if (rules === 'standard') axe.withTags(WCAG)
  if (rules === 'contrast') axe.withRules(['color-contrast'])
  const { violations } = await axe.analyze()
  return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(' | ')}`)
}
