import { describe, expect, it } from 'vitest'
import { isFlat, type Section } from '../../components/section'
import { asPrinted } from './FigureField'
import { joinedBy, withWire } from './LayersTable'
import { KINDS, kindOf, newRow } from './rowkinds'
import { moved } from './rows'
import { slug } from './slug'

describe('a sheet', () => {
  it('gets its id from the name on its box', () => {
    expect(slug('End seal P1, pinched tubes')).toBe('end-seal-p1-pinched-tubes')
    expect(slug('Brattfoss Ärmel 9 ½"')).toBe('brattfoss-armel-9-1-2')
    expect(slug('···')).toBe('sheet')
    expect(slug('x'.repeat(200))).toHaveLength(60)
  })
  it('joins every wire where nobody said which, and never none', () => {
    expect(joinedBy({ id: 'x', kind: 'crimp' })).toEqual(['bus-1', 'bus-2', 'braid'])
    expect(withWire({ id: 'x', kind: 'crimp' }, 'braid', false)).toEqual(['bus-1', 'bus-2'])
    expect(withWire({ id: 'x', kind: 'crimp', joins: ['braid'] }, 'bus-1', true)).toEqual(['braid', 'bus-1'])
    expect(withWire({ id: 'x', kind: 'crimp', joins: ['braid'] }, 'braid', false)).toEqual(['braid'])
  })
  it('takes a new row to the end of the last, with the part of its kind that no row takes yet', () => {
    const parts = [
      { id: 'A', what: 'tube' as const },
      { id: 'B', what: 'tube' as const },
      { id: 'C', what: 'tape' as const },
    ]
    const tube = KINDS.find((k) => k.words === 'shrink tube, its end pinched')
    if (!tube) throw new Error('no such kind')
    const first = newRow(tube, [{ id: 'l1', kind: 'cut', at: 'B' }], parts)
    expect(first).toEqual({ id: 'l2', kind: 'tube', pinched: true, part: 'A', at: 'B' })
    expect(newRow(tube, [first], parts)).toMatchObject({ id: 'l3', part: 'B' })
    expect(newRow(tube, [], [])).toEqual({ id: 'l1', kind: 'tube', pinched: true })
    expect(newRow(tube, [{ id: 'l2', kind: 'tape', at: 'joint' }], parts).at).toBeUndefined()
  })
  it('reads a figure as it is printed, a range and about too', () => {
    expect(asPrinted('20')).toEqual({ mm: 20 })
    expect(asPrinted('20,5 to 25')).toEqual({ mm: 20.5, to_mm: 25 })
    expect(asPrinted('20–25')).toEqual({ mm: 20, to_mm: 25 })
    expect(asPrinted('about 20')).toEqual({ mm: 20, about: true })
    expect(asPrinted('ca. 3 to 4')).toEqual({ mm: 3, to_mm: 4, about: true })
    for (const no of ['', 'soon', '20 to', '1 to 2 to 3']) expect(asPrinted(no)).toBeNull()
  })
  it('knows what a row is by what it begins with', () => {
    for (const kind of KINDS) expect(kindOf({ id: 'x', ...kind.begins }).words).toBe(kind.words)
    expect(kindOf({ id: 'x', kind: 'cut', layer: 'bus-1', length: { mm: 3 } }).words).toBe('cut bus wire 1')
  })
  it('moves a layer and keeps the others in their order', () => {
    expect(moved(['a', 'b', 'c', 'd'], 3, 1)).toEqual(['a', 'd', 'b', 'c'])
    expect(moved(['a', 'b'], 0, 0)).toEqual(['a', 'b'])
    expect(moved([], 2, 0)).toEqual([])
  })
})

describe('a section', () => {
  const at = (thickness_mm: number | null) =>
    ({ crossings: [{ circles: [{ thickness_mm }] }] }) as unknown as Section
  it('is flat as soon as anything in it is', () => {
    expect(isFlat(at(4))).toBe(true)
    expect(isFlat(at(null))).toBe(false)
  })
})
