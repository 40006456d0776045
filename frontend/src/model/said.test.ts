import { describe, expect, test } from 'vitest'
import { type Figure, said, spoken } from './said'

/** A sentence with its figures, written "cut [42] mm", "[>30.1]" for a least "[<9.9]" for a most and "[10²]" for a section whose sign comes later. */
function told(text: string, of = 'message'): { message: string; figures: Figure[] } {
  const figures: Figure[] = []
  let message = ''
  for (const part of text.split(/(\[[^\]]*\] ?(?:mm²)?)/)) {
    const inner = /^\[([<>]?)([\d.]+)(²?)\](.*)$/.exec(part)
    if (!inner) message += part
    else {
      const [, bound, digits = '', square, sign = ''] = inner
      figures.push({
        of,
        at: message.length,
        said: digits,
        value: Number(digits),
        unit: square || sign.includes('²') ? 'mm²' : 'mm',
        bound: bound === '>' ? 'least' : bound === '<' ? 'most' : '',
        figures: [],
      } as Figure)
      message += digits + sign
    }
  }
  return { message, figures }
}

describe('a sentence with inches on', () => {
  test.each([
    ['c12, cut [42] mm. Slide it back.', 'c12, cut 1.654 in. Slide it back.'],
    ['cut [456] mm', 'cut 17.95 in'],
    ['body [154] × [20] mm, cut to [12] mm', 'body 6.063 × 0.787 in, cut to 0.472 in'],
    ['sheaths of [28] and [27.5] mm', 'sheaths of 1.102 and 1.083 in'],
    ['Barrel 10 mm takes [10²] to [16] mm²', 'Barrel 10 mm takes 10 to 16 mm²'],
    ['[16] mm² carries the fault; [600] mm long', '16 mm² carries the fault; 23.62 in long'],
    ['taps [3.309] mm² from [21.15] mm²', 'taps 12 AWG, 3.309 mm² from 4 AWG, 21.15 mm²'],
    ['opens past [>30.1] mm and closes under [<9.9] mm', 'opens past 1.186 in and closes under 0.389 in'],
    ['at least [>1] mm, at most [<1] mm', 'at least 0.04 in, at most 0.039 in'], // 0.03937
    ['no figure', 'no figure'],
  ])('%s', (mm, inch) => {
    const sentence = told(mm)
    expect(said(sentence, 'inch')).toBe(inch)
    expect(said(sentence, 'mm')).toBe(sentence.message)
    expect(said(sentence.message, 'inch')).toBe(sentence.message) // what came without figures stays
  })

  test('a sign that counts double before it does not move a figure', () => {
    const { message, figures } = told('🔧 cut [42] mm')
    const counted = figures.map((f) => ({ ...f, at: f.at - 1 }))
    expect(said({ message, figures: counted }, 'inch')).toBe('🔧 cut 1.654 in')
  })
})

test('of an answer only what has its figures beside is turned, and what is sent back stays', () => {
  const { message: why, figures } = told('cut [254] mm', 'why')
  const cause = told('under [12.7] mm', 'causes/1')
  const way = {
    id: 'w 10 mm',
    name: 'Sleeve 10 mm',
    why,
    causes: ['damp', cause.message],
    figures: [...figures, ...cause.figures],
    change: { text: 'at 10 mm' },
    n: 1,
    none: null,
  }
  const turned = { ...way, why: 'cut 10 in', causes: ['damp', 'under 0.5 in'], figures: [] }
  expect(spoken([way], 'inch')).toEqual([turned])
  expect(spoken(spoken([way], 'inch'), 'inch')).toEqual([turned])
  expect(spoken(way, 'mm')).toBe(way)
})
