/** Whether a reading meets its gate: the same comparisons as the core, to ask before the server does. */
import type { components } from '../api/schema'
import { figure } from './units'

export type Gate = components['schemas']['GateOut']

/** Why a figure cannot have been read at all; empty when it can. */
export function impossible(gate: Gate, value: number | null | undefined): string {
  if (typeof value !== 'number' || !gate.possible) return ''
  const [low, high] = [gate.possible[0] ?? 0, gate.possible[1] ?? 0]
  if (value >= low && value <= high) return ''
  return `${figure(value)} ${gate.unit} cannot be: it lies between ${figure(low)} and ${figure(high)} ${gate.unit}. Is it another figure, or another unit?`
}

/** Whether a figure is offered: it may be left out, and proves nothing. */
export function offered(gate: Gate): boolean {
  return !gate.required && !gate.excuse
}

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
