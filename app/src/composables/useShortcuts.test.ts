// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { VIEWS } from '../views.ts'
import { KEYS, useShortcuts } from './useShortcuts.ts'

describe('keys that work anywhere', () => {
  let done: string[]
  let page: ReturnType<typeof mount>
  const note = (what: string) => () => done.push(what)
  const press = (key: string, init: KeyboardEventInit = {}, on: Element = document.body) => {
    const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...init })
    on.dispatchEvent(event)
    return event
  }

  beforeEach(() => {
    done = []
    page = mount(
      {
        template: '<input>',
        setup: () =>
          useShortcuts({
            goTo: (path) => done.push(path),
            undo: note('undo'),
            redo: note('redo'),
            toggleTheme: note('theme'),
            open: note('open'),
            save: note('save'),
            begin: note('begin'),
            seek: note('seek'),
            text: note('text'),
            showKeys: note('keys'),
          }),
      },
      { attachTo: document.body },
    )
  })
  afterEach(() => page.unmount())

  it('go to every view by its key, in the order of the way', () => {
    for (const { key } of VIEWS) press(key)
    expect(done).toEqual(VIEWS.map((v) => v.path))
  })

  it('undo and redo with Ctrl, and take those keys from the browser', () => {
    expect(press('z', { ctrlKey: true }).defaultPrevented).toBe(true)
    press('Z', { ctrlKey: true, shiftKey: true })
    press('y', { metaKey: true })
    expect(done).toEqual(['undo', 'redo', 'redo'])
    expect(press('s', { ctrlKey: true }).defaultPrevented).toBe(false)
    expect(done).toHaveLength(3)
  })

  it('do nothing where something is typed, nor with Alt', () => {
    press('1', {}, page.element)
    press('z', { ctrlKey: true }, page.element)
    press('t', { altKey: true })
    const list = document.body.appendChild(document.createElement('ul'))
    list.setAttribute('role', 'listbox')
    press('t', {}, list)
    list.remove()
    // Rows of a table filter with the key that seeks in the sentence.
    const rows = document.body.appendChild(document.createElement('div'))
    rows.addEventListener('keydown', (event) => event.preventDefault())
    press('/', {}, rows)
    rows.remove()
    expect(done).toEqual([])
  })

  it('are all on the sheet', () => {
    const sheet = KEYS.map((k) => k.key).join(' ')
    for (const key of ['t', 'o', 's', '?', 'Ctrl+Z', VIEWS[0].key, VIEWS[VIEWS.length - 1].key]) expect(sheet).toContain(key)
    expect(KEYS[0].does).toContain(VIEWS.map((v) => v.name).join(', '))
    for (const [key, does] of [
      ['t', 'theme'],
      ['o', 'open'],
      ['s', 'save'],
      ['?', 'keys'],
    ]) {
      press(key)
      expect(done.at(-1)).toBe(does)
    }
  })
})
