/** Readings on their way to an event: the figure, the instrument that gave it, and whether its display was exceeded. */
import { useEffect, useState } from 'react'
import type { Schemas } from '../../../api/client'
import { drop, keep, recall } from '../../../model/device'
import type { Gate } from '../../../model/gates'
import { figure, length, sign, type Unit } from '../../../model/units'
import type { WorkProps } from '../useWork'

export interface Taken {
  value: number
  /** The kind of instrument that gave it; nothing where a person typed it. */
  by?: string
  /** The display showed more than it can; the value is the end of its range. */
  over?: boolean
}
export type Readings = Record<string, Record<string, Taken | null>>

/** A reading as it is shown: lengths in the unit chosen, everything else in the gate's own. */
export function shown(gate: Gate, value: number, unit: Unit): string {
  return gate.unit === 'mm' ? `${length(value, unit)} ${sign(unit)}` : `${figure(value)} ${gate.unit}`
}

export function shownTaken(gate: Gate, taken: Taken, unit: Unit): string {
  return `${taken.over ? 'over ' : ''}${shown(gate, taken.value, unit)}`
}

/** What a reading is to be: its target with tolerance, in words. */
export function targetWords(gate: Gate, unit: Unit): string {
  const target = shown(gate, gate.target ?? 0, unit)
  return gate.tolerance ? `${target} ± ${shown(gate, gate.tolerance, unit)}` : target
}

/** What of an event the readings of a step are. */
export function eventOf(of: Record<string, Taken | null> | undefined) {
  const taken = Object.entries(of ?? {}).filter((e): e is [string, Taken] => e[1] !== null)
  return {
    values: Object.fromEntries(taken.map(([gate, t]) => [gate, t.value])),
    read_by: Object.fromEntries(taken.filter(([, t]) => t.by).map(([gate, t]) => [gate, t.by as string])),
    over: taken.filter(([, t]) => t.over).map(([gate]) => gate),
  }
}

/** Readings not confirmed yet; a reload or a fallen tablet does not lose them. */
export function useReadings(
  work: WorkProps['work'],
  states: WorkProps['states'],
  steps: WorkProps['work']['plan']['steps'],
) {
  const key = `typed:${work.ref}:${work.number}:${work.progress.attempt}:${steps[0]?.id}`
  const [readings, setReadings] = useState<Readings>(() => {
    const typed = recall<Record<string, Record<string, Taken | number | null>>>(key) ?? {}
    return Object.fromEntries(
      steps.map((s) => [
        s.id,
        {
          ...noted(
            s,
            states.find((x) => x.id === s.id),
          ),
          ...whole(typed[s.id]),
        },
      ]),
    )
  })
  useEffect(() => {
    const some = Object.values(readings).some((v) => Object.values(v).some((x) => x !== null))
    if (some) keep(key, readings)
    else drop(key)
  }, [key, readings])
  const read = (step: string, gate: string) => readings[step]?.[gate] ?? null
  const set = (step: string, gate: string) => (taken: Taken | null) =>
    setReadings((now) => ({ ...now, [step]: { ...now[step], [gate]: taken } }))
  return { readings, read, set, confirmed: () => drop(key) }
}

/** What the server holds of a step that is not done yet; a stand-in's figure stays one. */
function noted(step: Schemas['StepOut'], state: Schemas['StepState'] | undefined): Record<string, Taken> {
  const by = (id: string) =>
    state?.simulated?.includes(id) ? step.gates.find((g) => g.id === id)?.instrument : undefined
  return Object.fromEntries(
    Object.entries(state?.values ?? {}).map(([id, value]) => [
      id,
      taken(value, by(id), state?.over?.includes(id)),
    ]),
  )
}

function taken(value: number, by: string | undefined, over: boolean | undefined): Taken {
  return { value, ...(by ? { by } : {}), ...(over ? { over } : {}) }
}

/** Earlier versions kept bare figures. */
function whole(typed: Record<string, Taken | number | null> | undefined): Record<string, Taken | null> {
  return Object.fromEntries(
    Object.entries(typed ?? {}).map(([gate, t]) => [gate, typeof t === 'number' ? { value: t } : t]),
  )
}
