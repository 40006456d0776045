import { expect, test } from 'vitest'
import { lookOf, type Section } from '../../../components/section'
import type { Step } from '../useWork'
import { pictured } from './spoiled'
import { action, batchText, batchTitle, leafletWords, ownText, spoken, together } from './words'

const body = (id: string, kind: string, layer: string, core: string, from: number, to: number) => ({
  id,
  kind,
  layer,
  end: '',
  core,
  colour: '',
  depth_mm: 0,
  top: [
    [from, 4],
    [to, 4],
  ],
  bottom: [
    [from, -4],
    [to, -4],
  ],
})
const section = {
  from_mm: -100,
  to_mm: 100,
  bodies: [
    body('sheath-A', 'sheath', '', '', -100, -60),
    body('barrel-1', 'connector', 'crimp-1', '1', -20, 20),
    body('left-1', 'conductor', 'crimp-1', '1', -21, 0),
    body('right-1', 'conductor', 'crimp-1', '1', 0, 21),
    body('sleeve-1', 'core-sleeve', 'core-sleeve-1', '1', -30, 30),
    body('outer', 'outer-sleeve', 'outer-sleeve', '', -90, 90),
  ],
  crossings: [],
  dimensions: [],
  looks: {
    sheath: { material: 'sheath', form: 'solid', role: 'cable' },
    connector: { material: 'metal', form: 'solid', role: 'connector' },
    conductor: { material: 'strand', form: 'solid', role: 'conductor' },
    'core-sleeve': { material: 'sleeve', form: 'ring', role: 'core-cover' },
    'outer-sleeve': { material: 'sleeve', form: 'hollow', role: '' },
  },
} as unknown as Section

const xs = (s: Section, id: string) => s.bodies.find((b) => b.id === id)?.top.map((p) => p[0])

test('a connector gone wrong shows conductors that do not reach the stop', () => {
  const found = pictured(section, 'connector', new Set())
  expect(xs(found?.good as Section, 'left-1')).toEqual([-21, 0])
  expect(Math.max(...(xs(found?.bad as Section, 'left-1') as number[]))).toBeLessThan(-5)
  expect(Math.min(...(xs(found?.bad as Section, 'right-1') as number[]))).toBeGreaterThan(5)
  expect(found?.good.bodies.some((b) => b.kind === 'outer-sleeve' || b.kind === 'core-sleeve')).toBe(false)
})

test('a core sleeve gone wrong lies aside, the barrel stays', () => {
  const found = pictured(section, 'own', new Set(['core-sleeve-1']))
  expect(xs(found?.bad as Section, 'sleeve-1')?.[1]).toBeLessThan(20)
  expect(xs(found?.bad as Section, 'barrel-1')).toEqual([-20, 20])
})

test('an outer sleeve gone wrong stands off at one end only', () => {
  const bad = pictured(section, 'own', new Set(['outer-sleeve']))?.bad.bodies.find((b) => b.id === 'outer')
  expect(bad?.top.map((p) => p[1])).toEqual([4, 7])
  expect(bad?.bottom.map((p) => p[1])).toEqual([-4, -1])
  expect(bad?.dry).toBe(true)
})

test('a screen gone wrong is nicked, a braid over the joint gapes', () => {
  const bodies = [
    ...section.bodies,
    body('screen', 'screen', '', '', -10, 10),
    body('donor', 'donor', 'donor', '', -50, 50),
  ]
  const looks = {
    ...section.looks,
    screen: { material: 'braid', form: 'solid', role: 'screen' },
    donor: { material: 'braid', form: 'hollow', role: '' },
  }
  const laid = { ...section, bodies, looks } as unknown as Section
  const bad = pictured(laid, 'screen', new Set())?.bad.bodies.find((b) => b.id === 'screen')
  expect(Math.min(...(bad?.top.map((p) => p[1] ?? 0) ?? []))).toBeLessThan(2)
  expect(bad?.top[0]).toEqual([-10, 4])
  const gapes = pictured(laid, 'own', new Set(['donor']))
  expect(xs(gapes?.good as Section, 'donor')).toEqual([-50, 50])
  expect(xs(gapes?.bad as Section, 'donor')).toEqual([-85, 15])
})

test('nothing to draw is told as nothing', () => {
  expect(pictured(section, 'core-cover', new Set())).not.toBeNull()
  expect(pictured(section, 'own', new Set(['shell']))).toBeNull()
  expect(pictured(section, 'own', new Set(['core-sleeve-9']))).toBeNull()
})

test('kinds and layers called anything come to the same pictures', () => {
  const called = (word: string) => `x${[...word].reverse().join('')}`
  const nonsense = {
    ...section,
    bodies: section.bodies.map((b) => ({ ...b, kind: called(b.kind), layer: called(b.layer) })),
    looks: Object.fromEntries(Object.entries(section.looks).map(([k, look]) => [called(k), look])),
  } as Section
  const shapes = (s: Section | undefined) => s?.bodies.map((b) => [b.id, b.top, b.bottom])
  for (const [shown, layer] of [
    ['connector', ''],
    ['core-cover', ''],
    ['own', 'outer-sleeve'],
    ['own', 'core-sleeve-1'],
  ] as const) {
    const one = pictured(section, shown, new Set([layer]))
    const other = pictured(nonsense, shown, new Set([called(layer)]))
    expect(shapes(other?.bad)).toEqual(shapes(one?.bad))
    expect(shapes(other?.good)).toEqual(shapes(one?.good))
    expect(other?.range).toEqual(one?.range)
  }
})

test('an answer of before looks were sent is drawn plainly', () => {
  const { looks: _none, ...old } = section
  expect(lookOf((old as Section).looks, 'connector').form).toBe('solid')
})

const step = (more: Partial<Step>) =>
  ({
    id: 's',
    title: 'Cut core 1',
    text: 'Square.',
    caution: '',
    batch: '',
    kind: 'cut',
    hold: null,
    gates: [],
    ...more,
  }) as unknown as Step
const figure = [{ id: 'd', unit: 'mm', target: 46, tolerance: 2 }] as unknown as Step['gates']

test('words of a batch and of the large action', () => {
  const said = {
    batch: 'q7',
    batch_title: 'Cut the cores on A',
    batch_text: 'From the sheath cut.',
    action: 'Cut',
  }
  const cores = [step(said), step({ ...said, title: 'Cut core 2' })]
  expect(batchTitle(cores)).toBe('Cut the cores on A')
  expect(batchText(cores)).toBe('From the sheath cut. Square.')
  expect(batchText([step({})])).toBe('Square.')
  expect(action([step({})], 0)).toBe('Done')
  expect(action(cores, 0)).toBe('Cut: both')
  expect(action([...cores, ...cores], 0)).toBe('Cut: all 4')
  expect(action([...cores, step({ action: 'Clean' })], 0)).toBe('Done: all 3')
  expect(action([step({ kind: 'test' })], 1)).toBe('Note it: this does not pass')
  expect(action([step({ hold: 'parked' })], 0)).toBe('Sign this hold')
})

test('unlike work in a batch says its own words', () => {
  const cut = step({ batch: 'sheaths' })
  const rough = step({ batch: 'sheaths', kind: 'surface', text: 'Abrade 50 mm.' })
  const park = step({ kind: 'park', text: 'Over core 1.' })
  expect([cut, rough].map((s) => ownText(s, [cut, rough]))).toEqual(['', 'Abrade 50 mm.'])
  expect(ownText(park, [park])).toBe('Over core 1.')
  const far = step({ kind: 'park', text: 'Over all.', look: 'It waits 20 mm or more behind the cut.' })
  expect(ownText(far, [far, park])).toBe('Over all. It waits 20 mm or more behind the cut.')
  expect(batchText([far, park])).toBe('')
})

test('a batch of unlike cuts says each; what is alike is said once, beside what its batch says', () => {
  const said = { batch: 'units-A', batch_text: 'One at a time.', caution: 'No strand.', look: 'Square.' }
  const one = step({ ...said, text: '1a: 33 mm, 1b: 51 mm.' })
  const two = step({ ...said, text: '2a: 33 mm, 2b: 51 mm.', look: 'Square.' })
  expect(batchText([one, two])).toBe('One at a time.')
  expect([one, two].map((s) => ownText(s, [one, two]))).toEqual([one.text, two.text])
  expect(spoken([one, two])).toContain('2a: 33 mm, 2b: 51 mm.')
  expect(batchText([one, one])).toBe('One at a time. 1a: 33 mm, 1b: 51 mm.')
  expect(ownText(one, [one, one])).toBe('')
  expect(together([one, two], 'look')).toBe('Square.')
  expect(together([one, { ...two, caution: 'No core.' }], 'caution')).toBe('No strand. No core.')
})

test('what is read aloud names the figures', () => {
  expect(spoken([step({ gates: figure, caution: 'Keep clear.' })])).toBe(
    'Cut core 1. Square. 46 millimetres. Keep clear.',
  )
  expect(spoken([])).toBe('')
  const two = [
    step({ batch: 'cores-A', gates: figure }),
    step({ batch: 'cores-A', title: 'Cut core 2', gates: figure }),
  ]
  expect(spoken(two)).toContain('Cut core 2: 46 millimetres')
})

test('a step says which row of the leaflet it is, or that it was added', () => {
  expect(leafletWords([{ row: 4 }])).toBe('Row 4 of the leaflet.')
  expect(leafletWords([{ row: 4 }, { row: 0 }, { row: 5 }])).toBe('Rows 4, 5 of the leaflet.')
  expect(leafletWords([{ row: 0 }])).toBe('Added: the leaflet leaves it unsaid.')
  expect(leafletWords([{ row: null }])).toBe('')
})
