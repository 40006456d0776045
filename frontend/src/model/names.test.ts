import { describe, expect, it } from 'vitest'
import { inRuns } from './names'

describe('names in runs', () => {
  it('says what follows each other once', () => {
    expect(inRuns(['1a', '2a', '3a', '7a'])).toBe('1a to 3a, 7a')
    expect(inRuns(['1', '2', '4', '5', '6'])).toBe('1, 2, 4 to 6')
  })
  it('leaves names alone that do not count', () => {
    expect(inRuns(['white', 'brown', 'red-2'])).toBe('white, brown, red-2')
    expect(inRuns(['1a', '2b', '3a'])).toBe('1a, 2b, 3a')
    expect(inRuns([])).toBe('')
  })
})
