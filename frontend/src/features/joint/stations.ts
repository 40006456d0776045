/** Stations: never locked for looking, locked for doing, and they say why. */
import type { Schemas } from '../../api/client'

export const STATIONS = [
  { id: 'card', name: 'Card' },
  { id: 'measure', name: 'Measure' },
  { id: 'choose', name: 'Choose' },
  { id: 'cut', name: 'Cut' },
  { id: 'park', name: 'Park' },
  { id: 'build', name: 'Build' },
  { id: 'prove', name: 'Prove' },
  { id: 'sign', name: 'Sign' },
] as const

export interface StationState {
  id: string
  name: string
  state: 'done' | 'open' | 'locked'
  words: string
}

export function stationStates(
  joint: Schemas['JointOut'],
  plan: Schemas['Plan'] | undefined,
  states: Schemas['StepState'][],
): StationState[] {
  const lacking = (card: boolean) => joint.missing.filter((m) => m.path.startsWith('/card') === card)
  return STATIONS.map((s) => {
    if (s.id === 'card' || s.id === 'measure') {
      const missing = lacking(s.id === 'card')
      return {
        ...s,
        state: missing.length ? 'open' : 'done',
        words: missing.length ? (missing[0]?.message ?? '') : 'complete',
      }
    }
    if (s.id === 'choose') {
      const missing = joint.missing[0]
      if (joint.revision) return { ...s, state: 'done', words: `planned, revision ${joint.revision}` }
      return missing
        ? { ...s, state: 'locked', words: missing.message }
        : { ...s, state: 'open', words: 'choose the parts and plan' }
    }
    if (!plan) return { ...s, state: 'locked', words: 'not planned yet' }
    const mine = plan.steps
      .map((step, i) => ({ step, state: states[i]?.state ?? 'locked' }))
      .filter((x) => x.step.station === s.id)
    const left = mine.filter((x) => x.state !== 'done')
    if (!left.length) return { ...s, state: 'done', words: 'done' }
    const open = left.some((x) => x.state === 'open' || x.state === 'again')
    const first = plan.steps.find(
      (_step, i) =>
        states[i]?.state !== 'done' && (states[i]?.state === 'open' || states[i]?.state === 'again'),
    )
    return {
      ...s,
      state: open ? 'open' : 'locked',
      words: open ? `${left.length} steps left` : `first: ${first?.title ?? 'what comes before'}`,
    }
  })
}
