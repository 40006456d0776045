import { expect, test } from 'vitest'
import vectors from '../../../tests/vectors/progress.json'
import { aState, aStep } from '../testing/plan'
import { current, firstBefore, inOneGo, overlay, shutOff } from './progress'

const plan = { steps: vectors.steps.map((s) => aStep(s)) }
const fresh = vectors.steps.map((s) =>
  aState({ id: s.id, state: s.needs.length ? 'locked' : 'open', locked_by: s.needs }),
)

for (const c of vectors.cases)
  test(c.what, () => {
    const pending = c.events.map(([kind, step]) => ({
      kind: kind ?? '',
      step: step ?? '',
      values: {},
      actor: 'runa',
      at: '',
    }))
    expect(overlay(plan, fresh, pending).map((s) => s.state)).toEqual(c.states)
  })

test('steps of one batch are offered together, and only where they are open', () => {
  const batched = {
    steps: plan.steps.map((s) => (['cut', 'thread'].includes(s.id) ? { ...s, batch: 'b' } : s)),
  }
  const states = overlay(batched, fresh, [{ kind: 'done', step: 'isolate', values: {}, actor: '', at: '' }])
  expect(current(batched, states).map((s) => s.id)).toEqual(['cut', 'thread'])
  expect(current(batched, states, ['prove'])).toEqual([])
})

test('what comes one after the other in a batch is offered together, and none without what it needs', () => {
  const [outer, sleeve, marker] = ['outer', 'sleeve', 'marker'].map((id, n, all) =>
    aStep({ id, batch: 'park', needs: ['cut', ...all.slice(0, n)] }),
  )
  const cut = aStep({ id: 'cut', needs: [] })
  if (!outer || !sleeve || !marker) throw new Error('three are made')
  const parking = { steps: [cut, outer, sleeve, marker] }
  const before = parking.steps.map((s) =>
    aState({ id: s.id, state: s.needs.length ? 'locked' : 'open', locked_by: s.needs }),
  )
  expect(current(parking, before).map((s) => s.id)).toEqual(['cut'])
  const did = (step: string) => ({ kind: 'done', step, values: {}, actor: '', at: '' })
  const after = overlay(parking, before, [did('cut')])
  expect(current(parking, after).map((s) => s.id)).toEqual(['outer', 'sleeve', 'marker'])
  expect(inOneGo([outer, marker], after).map((s) => s.id)).toEqual(['outer'])
  expect(inOneGo([sleeve, marker], after)).toEqual([])
  const threaded = overlay(parking, after, [did('outer'), did('sleeve')])
  expect(current(parking, threaded).map((s) => s.id)).toEqual(['marker'])
})

test('what is to be done first is what can be done now, not only the step before', () => {
  const states = [
    aState({ id: 'ring', state: 'open' }),
    aState({ id: 'cut', state: 'locked', locked_by: ['ring'] }),
    aState({ id: 'strip', state: 'locked', locked_by: ['cut'] }),
  ]
  expect(firstBefore(states, 'strip')).toBe('ring')
  expect(firstBefore(states, 'ring')).toBeUndefined()
})

test('a reading laid over the server’s is kept', () => {
  const states = overlay(plan, fresh, [
    { kind: 'reading', step: 'isolate', values: { x: 3 }, actor: '', at: '' },
  ])
  expect(states[0]?.values).toEqual({ x: 3 })
})

test('a way of mending that begins again reopens its steps and what needs them, also before it is sent', () => {
  const did = ['isolate', 'cut', 'thread', 'join'].map((step) => ({
    kind: 'done',
    step,
    values: {},
    actor: 'runa',
    at: '',
  }))
  const mended = { kind: 'remedy', step: 'join', values: {}, actor: 'runa', at: '', again: ['cut'] }
  const after = overlay(plan, fresh, [...did, mended])
  expect(after.map((s) => s.state)).toEqual(['done', 'open', 'done', 'locked', 'locked'])
  const free = overlay(plan, fresh, [...did, { ...mended, again: [] }])
  expect(free.map((s) => s.state)).toEqual(['done', 'done', 'done', 'done', 'open'])
})

test('what lasts stays as it is when what was said or wiped before it is asked for again', () => {
  const steps = [
    aStep({ id: 'dead', kind: 'gate' }),
    aStep({ id: 'wipe', kind: 'surface', needs: ['dead'], shut_by: ['shrink'] }),
    aStep({ id: 'look', kind: 'inspect', needs: ['dead'] }),
    aStep({ id: 'shrink', kind: 'seal', needs: ['wipe', 'look'], once: true }),
    aStep({ id: 'sign', kind: 'sign', needs: ['shrink'] }),
  ]
  const done = steps.map((s) => aState({ id: s.id, state: 'done' }))
  const again = (id: string) => [{ kind: 'remedy', step: id, values: {}, actor: 'runa', at: '', again: [id] }]
  const states = (id: string) => overlay({ steps }, done, again(id)).map((s) => s.state)
  expect(states('dead')).toEqual(['open', 'done', 'done', 'done', 'open'])
  expect(states('look')).toEqual(['done', 'done', 'open', 'done', 'open'])
  const all = new Set(steps.map((s) => s.id))
  expect(shutOff({ steps }, all, ['wipe'])?.id).toBe('shrink')
  expect(shutOff({ steps }, all, ['wipe', 'shrink'])).toBeUndefined()
  expect(shutOff({ steps }, new Set(['dead', 'wipe']), ['wipe'])).toBeUndefined()
})

test('a fault that is taken back reopens nothing', () => {
  const did = { kind: 'done', step: 'isolate', values: {}, actor: 'runa', at: '' }
  const back = { kind: 'undone', step: 'isolate', about: 'f', values: {}, actor: 'runa', at: '' }
  expect(overlay(plan, fresh, [did, back])[0]?.state).toBe('done')
})
