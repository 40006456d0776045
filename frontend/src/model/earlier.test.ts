// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '../api/client'
import { newBrowser } from '../testing/site'
import { keepAnswer, recallAnswer, sweep } from './device'

const OLD = {
  ref: 'J-1',
  number: 2,
  verifiers: { eskil: 'Eskil Moe' },
  judgement: { verdict: 'open', reasons: [], limits: [], proofs: [] },
  progress: { state: 'building', steps: [{ id: 'a', state: 'done' }] },
}
const ROW = { ref: 'J-1', title: 'Feeder', where: 'Loop', state: 'building', done: 2, total: 4 }

/** The browser's cache of answers, as the earlier build's worker filled it. */
function cached(answers: Record<string, unknown>) {
  const held = new Map(Object.entries(answers).map(([path, body]) => [`http://site${path}`, body]))
  let there = true
  vi.stubGlobal('caches', {
    has: async () => there,
    open: async () => ({
      keys: async () => [...held.keys()].map((url) => ({ url })),
      match: async (request: { url: string }) => ({
        json: async () => {
          const body = held.get(request.url)
          if (body === 'damaged') throw new SyntaxError('cut off')
          return body
        },
      }),
    }),
    delete: async () => {
      there = false
    },
  })
  return () => there
}

beforeEach(() => {
  newBrowser()
  vi.stubGlobal('caches', { has: async () => false })
})

describe('what an earlier build kept', () => {
  it('as work is found in the shape of today, and nobody may sign by it', async () => {
    localStorage.setItem('work:J-1', JSON.stringify(OLD))
    const found = await recallAnswer<Schemas['Work']>('work:J-1')
    expect(found).toMatchObject({ number: 2, verifiers: [], trends: [], measured: [], again: {} })
    expect(found?.progress).toMatchObject({ cures: [], workers: [], since_hold: [] })
    expect(found?.progress.steps[0]).toMatchObject({ id: 'a', state: 'done', simulated: [], over: [] })
    expect(localStorage.getItem('work:J-1')).toBeNull()
  })

  it('is whole too where the build before this one kept it', async () => {
    const gate = { id: 'g', label: 'core', target: 1 }
    const kept = { ...OLD, plan: { steps: [{ id: 'a', gates: [gate] }] } }
    await keepAnswer('work:J-3', kept)
    const found = await recallAnswer<Schemas['Work']>('work:J-3')
    expect(found?.plan.steps[0]).toMatchObject({
      routes: [],
      pairs: [],
      gates: [{ ...gate, name: '', group: '' }],
    })
    await keepAnswer('joint:J-3', { ref: 'J-3' })
    expect(await recallAnswer('joint:J-3')).toEqual({ ref: 'J-3' })
  })

  it('in the cache of answers is taken over, and the cache goes', async () => {
    const there = cached({
      '/api/v1/joints/J-1': { ref: 'J-1', draft: {} },
      '/api/v1/joints/J%20x': { ref: 'J x', draft: {} },
      '/api/v1/joints/J-1/work': OLD,
      '/api/v1/joints/J-2/work': 'damaged',
      '/api/v1/board': { joints: [ROW, { ...ROW, ref: 'J-2', limits: 'no pull' }], today: [], loops: [] },
      '/api/v1/tools': { items: [] },
    })
    expect(await recallAnswer('joint:J-1')).toEqual({ ref: 'J-1', draft: {} })
    expect(await recallAnswer('joint:J x')).toBeDefined()
    expect(await recallAnswer('work:J-1')).toMatchObject({ number: 2, dials: [] })
    expect(await recallAnswer('work:J-2')).toBeUndefined()
    const board = await recallAnswer<Schemas['Board']>('board')
    expect(board?.states).toEqual([{ state: 'building', count: 2 }])
    expect(board?.loose.items.map((j) => [j.ref, j.share])).toEqual([
      ['J-1', 0.5],
      ['J-2', 0.5],
    ])
    expect(board?.limited.items.map((j) => j.ref)).toEqual(['J-2'])
    expect(there()).toBe(false)
  })

  it('never lies over what is newer', async () => {
    localStorage.setItem('work:J-1', JSON.stringify(OLD))
    await keepAnswer('work:J-1', { number: 3 })
    await sweep()
    expect(await recallAnswer('work:J-1')).toEqual({ number: 3 })
  })

  it('and is damaged is as if it were not there', async () => {
    localStorage.setItem('work:J-1', '{"number": 2, "prog')
    expect(await recallAnswer('work:J-1')).toBeUndefined()
    expect(localStorage.getItem('work:J-1')).toBeNull()
  })
})
