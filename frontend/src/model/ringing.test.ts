import { describe, expect, test } from 'vitest'
import vectors from '../../../tests/vectors/ringing.json'
import { rungWrong, tagsOf } from './ringing'

type Step = Parameters<typeof rungWrong>[0]

const step = (gates: object[], pairs: number[][] = []) =>
  ({ kind: 'identify', gates, pairs }) as unknown as Step

describe('cores that ring at another terminal are named', () => {
  for (const c of vectors.terminals)
    test(c.what, () => expect(rungWrong(step(vectors.gates), c.reads)).toEqual(c.says))
})

describe('numbers of a walk that contradict', () => {
  for (const c of vectors.walk.cases)
    test(c.what, () =>
      expect(rungWrong(step(vectors.walk.gates, vectors.walk.pairs), c.reads)).toEqual(c.says),
    )
})

test('nothing is said of any other step', () => {
  expect(rungWrong({ ...step(vectors.gates), kind: 'test' }, { a: 2 })).toEqual([])
})

describe('tags', () => {
  const gate = (id: string, group: string) => ({ id, name: `core ${id}`, group, target: null })
  const walk = step(
    [gate('1', '1'), gate('2', '2'), gate('3', '2')],
    [
      [1, 2],
      [2, 2],
      [2, 1],
    ],
  )
  test('carry the two numbers of a wire once they are read, and none that contradict', () => {
    expect(tagsOf(walk, { 1: 2, 2: 1 })).toEqual([
      { core: 'core 1', says: '1 · 2' },
      { core: 'core 2', says: '2 · 1' },
    ])
    expect(tagsOf(walk, { 2: 1, 3: 1 })).toEqual([])
    expect(tagsOf(walk, { 1: 9 })).toEqual([])
  })
  test('carry the terminal where two people ring', () => {
    expect(tagsOf(step([gate('1', '')]), { 1: 4 })).toEqual([{ core: 'core 1', says: '4' }])
    expect(tagsOf({ ...walk, kind: 'test' }, { 1: 2 })).toEqual([])
  })
})
