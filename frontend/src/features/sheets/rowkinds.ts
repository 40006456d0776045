/** What a row of a leaflet can be: its words, its place in the menu, what of it is asked. */
import type { Schemas } from '../../api/client'

export type Row = Schemas['LeafletLayer']
export type Part = Schemas['LeafletPart']
export type Asked =
  | 'part'
  | 'length'
  | 'reach'
  | 'datum'
  | 'school'
  | 'hold'
  | 'joins'
  | 'on'
  | 'torque'
  | 'turns'
  | 'spring'
  | 'minutes'
  | 'title'

export interface RowKind {
  words: string
  /** What a new row of this kind has already. */
  begins: Pick<Row, 'kind'> & Partial<Row>
  asks: Asked[]
  /** What its length is called. */
  length?: string
}

const cut = (layer: NonNullable<Row['layer']>, words: string): RowKind => ({
  words,
  begins: { kind: 'cut', layer, datum: 'cable-end' },
  asks: ['length', 'datum'],
})
const plain = (kind: Row['kind'], words: string, ...asks: Asked[]): RowKind => ({
  words,
  begins: { kind },
  asks,
})

const sleeve = (on: NonNullable<Row['on']>, words: string): RowKind => ({
  words,
  begins: { kind: 'wire-sleeve', on },
  asks: ['part', 'on', 'length'],
  length: 'leaves bare',
})

/** In the order in which leaflets tell them. */
export const GROUPS: [string, RowKind[]][] = [
  [
    'Kit, box and entry',
    [
      plain('receive', 'lay the kit out'),
      { ...plain('drill', 'drill the entry', 'length'), length: 'hole' },
      plain('knock-out', 'knock the entry out'),
      plain('base', 'set the base on the pipe', 'part'),
      plain('strap', 'strap it to the pipe', 'part', 'torque'),
      plain('turn', 'turn the box so that it drains'),
      plain('pierce', 'pierce the grommet', 'part'),
      plain('grommet', 'take the cable through the grommet', 'part'),
      { ...plain('push-back', 'push the cable back', 'part', 'length'), length: 'by' },
      plain('tighten', 'tighten gland or grommet', 'part', 'torque', 'turns'),
      plain('loop', 'lay the loop, tape it down', 'part'),
    ],
  ],
  [
    'Open the end',
    [
      cut('outer-jacket', 'cut the outer jacket'),
      plain('braid-pigtail', 'braid: pull through, pigtail', 'part'),
      plain('braid-fold', 'braid: lay back', 'part'),
      plain('braid-trim', 'braid: trim flush'),
      cut('braid', 'cut the braid'),
      cut('inner-jacket', 'cut the inner jacket'),
      cut('core', 'cut all the braid holds'),
      {
        words: 'strip matrix or heating wire',
        begins: { kind: 'strip-core', datum: 'cable-end' },
        asks: ['length', 'datum', 'school'],
      },
      cut('bus-1', 'cut bus wire 1'),
      cut('bus-2', 'cut bus wire 2'),
      {
        words: "strip the bus wires' own insulation",
        begins: { kind: 'cut', layer: 'bus-insulation' },
        asks: ['length'],
      },
      plain('bus-stagger', 'tape the bus wires apart', 'part'),
    ],
  ],
  [
    'Put on',
    [
      plain('tube', 'shrink tube', 'part', 'reach', 'datum'),
      {
        words: 'shrink tube, its end pinched',
        begins: { kind: 'tube', pinched: true },
        asks: ['part', 'reach', 'datum', 'hold'],
      },
      {
        words: 'shrink tube, pinched between the bus wires',
        begins: { kind: 'tube', pinched: true, between: true, datum: 'inner-jacket-cut' },
        asks: ['part', 'reach', 'datum', 'hold'],
      },
      sleeve(['bus-1', 'bus-2'], 'sleeve the bus wires'),
      sleeve(['braid'], 'sleeve the pigtail'),
      sleeve(['supply'], 'sleeve the supply wires'),
      plain('sealant', 'sealant', 'part', 'minutes'),
      plain('boot', 'boot', 'part', 'reach', 'datum'),
      plain('cap', 'end cap', 'part', 'reach', 'datum'),
      plain('tape', 'tape', 'part', 'reach', 'datum'),
      plain('braid-forward', 'braid: draw forward, tape down', 'part', 'reach', 'datum'),
    ],
  ],
  [
    'Join and land',
    [
      plain('crimp', 'join wires: crimps, connectors', 'part', 'joins'),
      { ...plain('ferrule', 'ferrules', 'part', 'on', 'length'), length: 'on bare wire' },
      plain('terminals', 'land the cable on terminals', 'part', 'torque', 'spring'),
      plain('supply', 'land the supply wires', 'part', 'torque', 'spring'),
    ],
  ],
  [
    'Close',
    [
      plain('spare-holes', 'close the spare holes', 'part'),
      plain('gasket', 'look at the gasket', 'part'),
      plain('box', 'close box or enclosure', 'part', 'torque'),
      plain('label', 'fix the label'),
      plain('step', 'another step', 'title', 'minutes'),
    ],
  ],
]
export const KINDS = GROUPS.flatMap(([, kinds]) => kinds)

/** The kind a row is of: the one that begins most like it. */
export function kindOf(row: Row): RowKind {
  const fits = (k: RowKind) =>
    k.begins.kind === row.kind &&
    (k.begins.layer ?? null) === (row.layer ?? null) &&
    Boolean(k.begins.pinched) === Boolean(row.pinched) &&
    Boolean(k.begins.between) === Boolean(row.between)
  const like = KINDS.filter(fits)
  const same = like.find((k) => !k.begins.on || k.begins.on.join() === row.on?.join())
  return same ?? like[0] ?? plain(row.kind, row.kind.replace('-', ' '), 'part')
}

/** What kinds of part a row takes. */
const TAKES: Partial<Record<Row['kind'], Part['what'][]>> = {
  base: ['box'],
  strap: ['strap'],
  pierce: ['grommet'],
  grommet: ['grommet'],
  'push-back': ['grommet'],
  tighten: ['grommet'],
  loop: ['tape'],
  'braid-pigtail': ['sleeve'],
  'braid-fold': ['tape'],
  'bus-stagger': ['tape'],
  'braid-forward': ['tape'],
  tube: ['tube'],
  'wire-sleeve': ['tube', 'sleeve'],
  sealant: ['sealant'],
  boot: ['boot'],
  cap: ['cap'],
  tape: ['tape'],
  crimp: ['crimp', 'twist-on'],
  ferrule: ['ferrule'],
  terminals: ['terminals', 'box'],
  supply: ['terminals', 'box', 'twist-on'],
  'spare-holes': ['plug'],
  gasket: ['box'],
  box: ['box'],
}

/** The parts of the box that a row may take. */
export const partsFor = (row: Pick<Row, 'kind'>, parts: Part[]) =>
  parts.filter((p) => (TAKES[row.kind] ?? [p.what]).includes(p.what) || p.what === 'other')

/** A new row behind the last: at the same end, with the part of its kind that no row takes yet. */
export function newRow(kind: RowKind, rows: Row[], parts: Part[]): Row {
  const taken = new Set(rows.map((x) => x.id))
  let n = rows.length + 1
  while (taken.has(`l${n}`)) n += 1
  const last = rows.at(-1)
  const mine = kind.asks.includes('part')
    ? partsFor(kind.begins, parts).filter((p) => p.what !== 'other')
    : []
  const used = new Set(rows.map((x) => x.part))
  const part = mine.find((p) => !used.has(p.id)) ?? mine.at(-1)
  return {
    id: `l${n}`,
    ...kind.begins,
    ...(part ? { part: part.id } : {}),
    ...(last?.at && last.at !== 'joint' ? { at: last.at } : {}),
  }
}
