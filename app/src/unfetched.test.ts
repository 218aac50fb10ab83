import { beforeEach, describe, expect, it } from 'vitest'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import { nextTask } from './composables/frames.ts'
import { fetchAhead, sayUnfetched } from './unfetched.ts'

describe('a part of the page that does not come', () => {
  const there = { render: () => null }
  let isThere: boolean
  let page: EventTarget
  let late: () => Promise<typeof there>
  let remarks: { words: string }
  let router: Router
  beforeEach(async () => {
    isThere = false
    page = new EventTarget()
    remarks = { words: '' }
    late = () => {
      if (isThere) return Promise.resolve(there)
      // As the bundler does it.
      const payload = new TypeError('Failed to fetch dynamically imported module')
      page.dispatchEvent(Object.assign(new Event('vite:preloadError'), { payload }))
      return Promise.reject(payload)
    }
    router = createRouter({
      history: createMemoryHistory(),
      routes: [
        { path: '/', component: there },
        { path: '/load', component: late, meta: { title: 'Load' } },
      ],
    })
    sayUnfetched(router, page, remarks)
    await router.push('/')
  })

  it('is named where it is a view, with what to do, and where one was stays', async () => {
    await expect(router.push('/load')).rejects.toThrow('Failed to fetch')
    await nextTask()
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

  it('is told of where it is none, unless nobody has asked for it', async () => {
    await fetchAhead(late)
    await nextTask()
    expect(remarks.words).toBe('')
    const [ahead, asked] = [fetchAhead(late), late()]
    await expect(asked).rejects.toThrow('Failed to fetch')
    await ahead
    await nextTask()
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
