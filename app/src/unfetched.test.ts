import { beforeEach, describe, expect, it } from 'vitest'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import { sayUnfetched } from './unfetched.ts'

describe('a part of the page that does not come', () => {
  const there = { render: () => null }
  let isThere: boolean
  let isAhead: boolean
  let page: EventTarget
  let remarks: { words: string }
  let router: Router
  beforeEach(async () => {
    isThere = isAhead = false
    page = new EventTarget()
    remarks = { words: '' }
    const late = () => {
      if (isThere) return Promise.resolve(there)
      page.dispatchEvent(new Event('vite:preloadError'))
      return Promise.reject(new TypeError('Failed to fetch dynamically imported module'))
    }
    router = createRouter({
      history: createMemoryHistory(),
      routes: [
        { path: '/', component: there },
        { path: '/load', component: late, meta: { title: 'Load' } },
      ],
    })
    sayUnfetched(router, page, remarks, () => isAhead)
    await router.push('/')
  })

  it('is named where it is a view, with what to do, and where one was stays', async () => {
    await expect(router.push('/load')).rejects.toThrow('Failed to fetch')
    expect(remarks.words).toMatch(/^“Load” could not be fetched: the server.*Start it again.*the plan is kept\.$/)
    expect(router.currentRoute.value.path).toBe('/')
  })

  it('is not spoken of any more once it is there', async () => {
    await expect(router.push('/load')).rejects.toThrow()
    isThere = true
    await router.push('/load')
    expect(router.currentRoute.value.path).toBe('/load')
    expect(remarks.words).toBe('')
  })

  it('is told of where it is none, unless nobody has asked for it', () => {
    isAhead = true
    page.dispatchEvent(new Event('vite:preloadError'))
    expect(remarks.words).toBe('')
    isAhead = false
    page.dispatchEvent(new Event('vite:preloadError'))
    expect(remarks.words).toMatch(/^A part of the page could not be fetched/)
  })

  it('takes nothing away that was said since', async () => {
    await expect(router.push('/load')).rejects.toThrow()
    remarks.words = 'A copy was made.'
    isThere = true
    await router.push('/load')
    expect(remarks.words).toBe('A copy was made.')
  })
})
