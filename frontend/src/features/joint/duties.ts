/** What a joint must bear where it lies, in words. */
import type { Draft, Schemas } from '../../api/client'

type CardData = Schemas['DraftCard']
export type Duty = NonNullable<CardData['duties']>[number]
export const DUTIES: [Duty, string][] = [
  ['dry', 'dry'],
  ['damp', 'damp'],
  ['buried', 'buried'],
  ['immersed', 'immersed'],
  ['oil', 'oil or chemicals'],
  ['uv', 'sunlight'],
  ['fire', 'fire duty'],
  ['moving', 'moving'],
  ['hazardous', 'hazardous area'],
]

/** What its parts are chosen for, in a line: voltage and duties. */
export function askedFor(draft: Draft): string {
  const card: CardData = draft.card ?? {}
  const duties = DUTIES.filter(([duty]) => card.duties?.includes(duty)).map(([, words]) => words)
  const volts = card.rated_voltage_v ? [`${card.rated_voltage_v} V`] : []
  return [...volts, ...(duties.length ? duties : ['dry'])].join(', ')
}
