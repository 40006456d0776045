import { expect, test } from 'vitest'
import vectors from '../../../tests/vectors/progress.json'
import type { Schemas } from '../api/client'
import { current, overlay } from './progress'

const blank = {
  title: '',
  kind: '',
  station: 'build',
  text: '',
  caution: '',
  look: '',
  fails: '',
  hold: null,
  second_person: false,
  batch: '',
  layer: '',
  end: '',
  core: '',
  gates: [],
  part_id: '',
  focus_mm: null,
  stamp: '',
  timers: [],
  tools: [],
  hot: false,
  photo: false,
  basis: '',
  cure: null,
  heat_c: null,
}
const plan = { steps: vectors.steps.map((s): Schemas['StepOut'] => ({ ...blank, ...s })) }
const fresh = vectors.steps.map((s): Schemas['StepState'] => ({
  id: s.id,
  state: s.needs.length ? 'locked' : 'open',
  locked_by: s.needs,
  actor: '',
  at: '',
  values: {},
  why: '',
  reason: '',
}))

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

test('a reading laid over the server’s is kept', () => {
  const states = overlay(plan, fresh, [
    { kind: 'reading', step: 'isolate', values: { x: 3 }, actor: '', at: '' },
  ])
  expect(states[0]?.values).toEqual({ x: 3 })
})
