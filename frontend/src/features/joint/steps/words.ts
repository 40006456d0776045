/** Words for batches of steps and for the one large action. */
import type { Step } from '../useWork'

/** What the hand does, once for all of a batch. */
export function batchTitle(steps: Step[]): string {
  return steps[0]?.batch_title || (steps[0]?.title ?? '')
}

/** What all steps of a batch have to be told; each one's own words stand in its row. */
export function batchText(steps: Step[]): string {
  const first = steps[0]
  return first ? [first.batch_text, alike(steps) ? first.text : ''].filter(Boolean).join(' ') : ''
}

/** Whether those of the first one's kind are all done in the same words. What is threaded is told one by one. */
function alike(steps: Step[]): boolean {
  const first = steps[0]
  return first?.kind !== 'park' && steps.every((s) => s.kind !== first?.kind || s.text === first.text)
}

/** What stands in a step's own row: what its batch does not say, and where what is threaded waits. */
export function ownText(step: Step, steps: Step[]): string {
  if (step.kind === 'park') return [step.text, step.look].filter(Boolean).join(' ')
  return step.kind !== steps[0]?.kind || !alike(steps) ? step.text : ''
}

/** Where the kit's leaflet tells it, or that the leaflet does not; nothing where no leaflet is followed. */
export function leafletWords(steps: Pick<Step, 'row'>[]): string {
  const rows = [...new Set(steps.map((s) => s.row).filter((row) => row != null))]
  if (!rows.length) return ''
  const said = rows.filter((row) => row > 0)
  if (!said.length) return 'Added: the leaflet leaves it unsaid.'
  return said.length > 1 ? `Rows ${said.join(', ')} of the leaflet.` : `Row ${said[0]} of the leaflet.`
}

/** What several steps say in a field, each sentence once. */
export function together(steps: Step[], field: 'look' | 'fails' | 'caution'): string {
  return [...new Set(steps.map((s) => s[field]).filter(Boolean))].join(' ')
}

/** What is confirmed by the one large button: of steps that are unlike only that they are done. */
export function action(steps: Step[], failing: number): string {
  if (failing) return 'Note it: this does not pass'
  if (steps[0]?.hold) return 'Sign this hold'
  const words = new Set(steps.map((s) => s.action))
  const word = (words.size === 1 && steps[0]?.action) || 'Done'
  const count = steps.length
  return count > 1 ? `${word}: ${count === 2 ? 'both' : `all ${count}`}` : word
}

/** Units as they are said. */
const SAID: Record<string, string> = {
  mm: 'millimetres',
  N·m: 'newton metres',
  '°C': 'degrees',
  MΩ: 'megohms',
  Ω: 'ohms',
  µΩ: 'microhms',
  '%': 'per cent',
}

function aloud(unit: string): string {
  return SAID[unit] ?? unit
}

/** What is read aloud. */
export function spoken(steps: Step[]): string {
  const first = steps[0]
  if (!first) return ''
  const many = steps.length > 1
  const figures = steps.flatMap((s) =>
    s.gates
      .filter((g) => g.target !== null)
      .map(
        (g) =>
          `${many ? `${s.title}: ` : s.gates.length > 1 ? `${g.label}: ` : ''}${g.target} ${aloud(g.unit)}`,
      ),
  )
  return [
    many ? batchTitle(steps) : first.title,
    many ? batchText(steps) : first.text,
    ...(many ? steps.map((s) => ownText(s, steps)) : []),
    ...figures,
    together(steps, 'caution'),
  ]
    .filter(Boolean)
    .map((words) => (words.endsWith('.') ? words : `${words}.`))
    .join(' ')
}
