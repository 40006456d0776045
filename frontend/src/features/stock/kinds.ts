/** The kinds of part a stock holds, as the server tells them: what is filled in, shown and counted of each. */
import { useQuery } from '@tanstack/react-query'
import { api, keptAnswer, type Schemas, take } from '../../api/client'
import { pairsText, readPairs } from '../../model/pairs'
import { diameter, sign, type Unit } from '../../model/units'

export type Part = Schemas['StockPart']
export type Kind = Schemas['PartKindOut']
export type Figure = Schemas['PartFigure']
export type Pairs = Record<string, number>[]
export type Value = string | number | boolean | string[] | Pairs | null
export type Figures = Record<string, Value | undefined>

export function useKinds() {
  return useQuery({
    queryKey: ['part-kinds'],
    queryFn: () => keptAnswer('part-kinds', () => take(api.GET('/api/v1/part-kinds'))),
    staleTime: Number.POSITIVE_INFINITY,
  })
}

/** A figure as it is read, without its unit; empty where there is none. */
export function said(figure: Figure, value: Value | undefined, unit: Unit): string {
  if (figure.form === 'flag') return value ? figure.label : figure.absent
  if (value === undefined || value === null) return ''
  if (figure.form === 'length' && typeof value === 'number') return diameter(value, unit)
  if (figure.row && Array.isArray(value))
    return value.map((v) => rowSaid(figure.row, v as Pairs[0], unit)).join(', ')
  if (figure.form === 'pairs' && figure.names) return pairsText(value, figure.names)
  return Array.isArray(value) ? value.join(', ') : String(value)
}

/** One row as it is shown; its lengths in the unit of the day. */
function rowSaid(row: string, values: Pairs[0] = {}, unit: Unit): string {
  return row.replace(/\{(\w+)\}/g, (_, key: string) => {
    const n = values[key] ?? Number.NaN
    return key.endsWith('_mm') ? diameter(n, unit) : String(n)
  })
}

export function unitSaid(figure: Figure, unit: Unit): string {
  return figure.form === 'length' ? sign(unit) : figure.unit
}

/** A line of text with its figures filled in and the unit after the last; null where one of them is not there. */
export function filled(text: string, kind: Kind, part: Part, unit: Unit): string | null {
  const keys = [...text.matchAll(/\{(\w+)\}/g)].map((m) => m[1] ?? '')
  let found = text
  for (const [i, key] of keys.entries()) {
    const figure = kind.figures.find((f) => f.key === key)
    const words = figure && said(figure, part.figures[key] as Value | undefined, unit)
    if (!figure || !words) return null
    const after = i === keys.length - 1 ? unitSaid(figure, unit) : ''
    found = found.replace(`{${key}}`, after ? `${words} ${after}` : words)
  }
  return found
}

/** The figure a part is looked for by. */
export const sizeOf = (kind: Kind, part: Part, unit: Unit) => filled(kind.size, kind, part, unit) ?? ''

export const factsOf = (kind: Kind, part: Part, unit: Unit) =>
  kind.facts
    .map((f) => filled(f, kind, part, unit))
    .filter(Boolean)
    .join(', ')

/** A quantity as it is stored, as people count it. */
export const counted = (kind: Kind, quantity: number): number =>
  Math.round((quantity / kind.stored) * 1000) / 1000

/** A counted quantity as it is stored, to a thousandth of a millimetre. */
export const stored = (kind: Kind, quantity: number): number =>
  Math.round(quantity * kind.stored * 1000) / 1000

/** The first lot of a new part; null where nothing of one was typed. */
export function firstLot(kind: Kind, name: string, quantity: number | null, useBy: string) {
  if (!name.trim() && quantity === null && !useBy) return null
  return {
    name: name.trim() || undefined,
    quantity: stored(kind, quantity ?? 0),
    use_by: useBy || null,
  }
}

/** Figures as they are sent: lists without blanks, pairs read from their text, the first choice where none was made. */
export function tidy(figures: Figures, kind: Kind): Figures {
  const found = { ...figures }
  for (const { key, form, names, options } of kind.figures) {
    const value = found[key]
    if (form === 'words' && Array.isArray(value))
      found[key] = value.map((w) => String(w).trim()).filter(Boolean)
    if (form === 'pairs' && names && typeof value === 'string') found[key] = readPairs(value, names)
    if (form === 'choice') found[key] = value ?? options[0]
  }
  return found
}
