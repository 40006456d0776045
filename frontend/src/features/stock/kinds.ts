/** The kinds of part a stock holds, by their heading. */
import type { Schemas } from '../../api/client'

export type Part = Schemas['StockPart']
export const KINDS = {
  sleeve: 'Sleeves',
  connector: 'Connectors',
  tape: 'Tapes',
  shell: 'Shells',
  resin: 'Resins',
  strap: 'Straps',
  clamp: 'Clamps',
  mesh: 'Mesh',
  kit: 'Kits',
} as const
export type Kind = keyof typeof KINDS
