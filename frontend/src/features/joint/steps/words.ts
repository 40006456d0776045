/** Words for batches of steps and for the one large action. */
import type { Step } from '../useWork'

const BATCHES: Record<string, string> = {
  sheaths: 'Take both sheaths off',
  'cores-A': 'Cut the cores on A',
  'cores-B': 'Cut the cores on B',
  'strip-A': 'Strip the cores on A',
  'strip-B': 'Strip the cores on B',
  park: 'Thread everything on',
  'surface-cores': 'Wipe the cores clean',
  'inspect-cores': 'Look at every core',
  'wrap-mica': 'Wind mica on every core',
  'wrap-mastic': 'Fill the steps with mastic',
  fold: 'Bend the armour back',
  'armour-A': 'Cut armour and bedding on A',
  'armour-B': 'Cut armour and bedding on B',
  'surface-sheath': 'Roughen both sheaths',
}

const SEALS: Record<string, string> = {
  Shrink: 'Shrink the core sleeves',
  Close: 'Close the core sleeves',
  Insulate: 'Insulate the cores with tape',
  Cap: 'Cap the open ends',
}

export function batchTitle(steps: Step[]): string {
  const first = steps[0]
  if (!first) return ''
  const verb = first.title.split(' ')[0]
  if (first.batch === 'join') return `${verb} the ${verb === 'Fit' ? 'connectors' : 'cores'}`
  if (first.batch === 'seal-cores') return SEALS[verb ?? ''] ?? first.title
  return BATCHES[first.batch] ?? first.title
}

/** What all steps of a batch have to be told; each one's own words stand in its row. */
export function batchText(steps: Step[]): string {
  const first = steps[0]
  if (!first) return ''
  if (first.batch.startsWith('cores')) return 'Each measured from the sheath cut, square, one core at a time.'
  if (first.batch === 'park') return 'In this order, over clean cable. None of them can be put on later.'
  return first.text
}

const ACTIONS: Record<string, string> = {
  cut: 'Cut',
  park: 'Threaded on',
  wrap: 'Wound',
  armour: 'Bent back',
  bond: 'Clamped',
  fit: 'Closed',
  mix: 'Mixed: start the clock',
  surface: 'Clean',
  inspect: 'Looked at, good',
  test: 'Readings stand',
  wait: 'It is cool',
  label: 'It is fixed',
}

/** What a title's verb is called when it is done. */
const DONE: Record<string, string> = {
  Crimp: 'Crimped',
  Bolt: 'Bolted',
  Solder: 'Soldered',
  Fit: 'Fitted',
  Shrink: 'Shrunk',
  Close: 'Closed',
  Cap: 'Capped',
  Insulate: 'Wound',
  Wind: 'Wound',
  Pour: 'Poured',
}

export function action(step: Step, count: number, failing: number): string {
  if (failing) return 'Note it: this does not pass'
  if (step.hold) return 'Sign this hold'
  const word = step.cure
    ? 'It is cured'
    : (DONE[step.title.split(' ')[0] ?? ''] ?? ACTIONS[step.kind] ?? 'Done')
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
    ...figures,
    first.caution,
  ]
    .filter(Boolean)
    .map((words) => (words.endsWith('.') ? words : `${words}.`))
    .join(' ')
}
