import { describe, expect, test } from 'vitest'
import vectors from '../../../tests/vectors/ringing.json'
import { rungWrong } from './ringing'

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
