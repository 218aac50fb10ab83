// @vitest-environment happy-dom
import { beginPlan, figuresOf, OPENINGS, type OpeningName, type Plan } from '@sandclock/core'
import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent, h } from 'vue'
import { allPassages } from '../../test/allPassages.ts'
import { CLASS_PARTS, passageAt, SERVICE_PARTS } from '../components/sentence/passages.ts'
import PlanSentence from '../components/sentence/PlanSentence.vue'
import { demoPlan } from '../data/demo.ts'
import type { Edit } from '../edits/edits.ts'
import { provideFigures } from './provideFigures.ts'

const openings = (Object.keys(OPENINGS) as OpeningName[]).map((name) => beginPlan(figuresOf(name), demoPlan.machines, 'EUR'))
const opens = { classes: CLASS_PARTS, services: SERVICE_PARTS, money: true as const, trust: true as const }

async function sentence(plan: Plan) {
  const edits: Edit[] = []
  let figures!: ReturnType<typeof provideFigures>
  const around = defineComponent({
    setup() {
      figures = provideFigures(
        () => plan,
        (edit) => edits.push(edit),
      )
      return () => h(PlanSentence, { plan, planId: 'p', view: '/load', opens, onEdit: figures.edit })
    },
  })
  const wrapper = await allPassages(mount(around, { attachTo: document.body }), plan)
  return { wrapper, figures, edits, changeable: wrapper.findAll('.changeable').map((w) => w.element) }
}

describe('the figures of a sentence', () => {
  beforeEach(() => sessionStorage.clear())

  it('each stand somewhere in the plan, in the demo and in every opening; asking them changes nothing', async () => {
    let asked = 0
    for (const plan of [demoPlan, ...openings]) {
      const { wrapper, figures, edits, changeable } = await sentence(plan)
      for (const element of changeable) {
        const place = figures.placeAt(element)
        const label = element.getAttribute('aria-label')
        expect(place, label ?? '').toBeDefined()
        expect(place!.length, label ?? '').toBeGreaterThan(0)
        // What a passage tells is in it, but for the models that services run and the plan's own name and beginning.
        const passage = element.closest<HTMLElement>('[data-passage]')?.dataset.passage
        if (passage && passageAt(place!) !== '') expect(passageAt(place!), label ?? '').toBe(passage)
        asked++
      }
      expect(edits).toEqual([])
      wrapper.unmount()
    }
    expect(asked).toBeGreaterThan(200)
  })

  it('are found again from where they stand, and from what is within it', async () => {
    const { wrapper, figures, changeable } = await sentence(demoPlan)
    for (const element of changeable) {
      const place = figures.placeAt(element)!
      expect(place, element.outerHTML.slice(0, 300)).toBeDefined()
      const again = figures.figureOf(place, wrapper.element as Element)!
      expect(figures.placeAt(again)).toEqual(place)
    }
    const patience = changeable.find((e) => e.getAttribute('aria-label')?.startsWith('Patience of pilot desk'))!
    expect(figures.placeAt(patience)).toEqual(['classes', 0, 'patienceSeconds'])
    expect(figures.figureOf(['classes', 0, 'patienceSeconds'], wrapper.element as Element)?.contains(patience)).toBe(true)
    expect(figures.figureOf(['machines', 0, 'stock'], wrapper.element as Element)).toBeUndefined()
    wrapper.unmount()
  })

  it('change the plan when they are meant to', async () => {
    const { wrapper, edits } = await sentence(demoPlan)
    await wrapper.get('[aria-label^="Patience of pilot desk"]').trigger('keydown', { key: 'ArrowUp' })
    expect(edits.map((edit) => edit(demoPlan).classes[0].patienceSeconds)).toEqual([22])
    wrapper.unmount()
  })
})
