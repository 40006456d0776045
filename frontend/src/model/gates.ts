/** Whether a reading meets its gate: the same comparisons as the core, to ask before the server does. */
import type { components } from '../api/schema'
import { figure } from './units'

export type Gate = components['schemas']['GateOut']

export function limited(gate: Gate): boolean {
  return gate.least !== null || gate.most !== null
}

export function fails(gate: Gate, value: number | null | undefined): boolean {
  if (typeof value !== 'number') return false
  return (
    (gate.least !== null && value < gate.least * (1 - 1e-9)) ||
    (gate.most !== null && value > gate.most * (1 + 1e-9))
  )
}

export function outside(gate: Gate, value: number | null | undefined): boolean {
  if (typeof value !== 'number' || gate.target === null || gate.tolerance === null) return false
  return Math.abs(value - gate.target) > gate.tolerance + 1e-9 * Math.max(1, Math.abs(gate.target))
}

/** What a reading must be, in words. */
export function limitWords(gate: Gate): string {
  if (gate.least !== null) return `at least ${figure(gate.least)} ${gate.unit}`
  return gate.most !== null ? `at most ${figure(gate.most)} ${gate.unit}` : 'if it is read'
}
