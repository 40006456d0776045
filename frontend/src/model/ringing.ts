/** What readings of continuity contradict, as the core says it too (tests/vectors/ringing.json): cores that ring at
 *  another one's terminal, and numbers of a walk there and back that no wire can have. */
import type { components } from '../api/schema'

type Step = Pick<components['schemas']['StepOut'], 'kind' | 'pairs' | 'gates'>
type Gate = Pick<components['schemas']['GateOut'], 'id' | 'name' | 'group' | 'target'>
type Values = Record<string, number | null | undefined>

export function rungWrong(step: Step, values: Values): string[] {
  if (step.kind !== 'identify') return []
  if (step.pairs.length) return numbers(step, values)
  return terminals(
    step.gates.filter((g) => g.group && g.target !== null),
    values,
  )
}

function numbers(step: Step, values: Values): string[] {
  const said: string[] = []
  const seen = new Map<string, string>()
  const known = new Set(step.pairs.map(([a, b]) => `${a} and ${b}`))
  for (const g of step.gates) {
    const value = values[g.id]
    if (typeof value !== 'number' || !g.group) continue
    const pair = `${g.group} and ${Math.round(value)}`
    const other = seen.get(pair)
    if (!known.has(pair)) said.push(`${g.name}: no wire has the numbers ${pair}. Ring it again.`)
    else if (other) said.push(`${other} and ${g.name} both have the numbers ${pair}. Ring these again.`)
    if (!other) seen.set(pair, g.name)
  }
  return said
}

function terminals(gates: Gate[], values: Values): string[] {
  const own = (g: Gate) => Math.round(g.target ?? 0)
  const at = (g: Gate) => Math.round(values[g.id] ?? g.target ?? 0)
  const owner = new Map(gates.map((g) => [own(g), g]))
  const wrong = gates.filter((g) => at(g) !== own(g))
  const read = gates.filter((g) => typeof values[g.id] === 'number')
  const said = wrong
    .filter((g) => !owner.has(at(g)))
    .map((g) => `${g.name} rings at ${at(g)}, and there is no such terminal. Ring it again.`)
  for (const [n, g] of read.entries()) {
    const twice = read.slice(0, n).find((h) => at(h) === at(g))
    if (twice) said.push(`${twice.name} and ${g.name} both ring at ${at(g)}. Ring these again.`)
  }
  for (const unit of new Set(wrong.map((g) => g.group))) {
    const mine = gates.filter((g) => g.group === unit)
    const off = mine.filter((g) => wrong.includes(g) && owner.has(at(g)))
    if (!off.length) continue
    const goes = new Set(mine.flatMap((g) => owner.get(at(g))?.group ?? []))
    const joined = off.map((g) => `${g.name} is joined to ${owner.get(at(g))?.name}`).join(', ')
    if (mine.length === 1) said.push(`${joined}: join it anew.`)
    else if (goes.size > 1)
      said.push(`Unit ${unit} is split (${joined}): a split pair lets the others in. Join it anew.`)
    else if (goes.has(unit))
      said.push(`Unit ${unit} is swapped in itself (${joined}): its polarity is wrong. Join it anew.`)
    else said.push(`Unit ${unit} lies where unit ${[...goes][0]} belongs (${joined}). Join both anew.`)
  }
  return said
}

export interface Tag {
  core: string
  says: string
}

/** What to write on the tag of each core that is told apart: the two numbers of its wire, as its terminal has them, or
 *  the terminal it rang at. What contradicts another reading gets none. */
export function tagsOf(step: Step, values: Values): Tag[] {
  if (step.kind !== 'identify') return []
  const walked = step.pairs.length > 0
  const known = new Set(step.pairs.map(([a, b]) => `${a} · ${b}`))
  const read = step.gates.flatMap((g) => {
    const value = values[g.id]
    if (typeof value !== 'number' || (walked && !g.group) || (!walked && g.target !== null)) return []
    const says = walked ? `${g.group} · ${Math.round(value)}` : `${Math.round(value)}`
    return walked && !known.has(says) ? [] : [{ core: g.name, says }]
  })
  return read.filter((t) => read.filter((o) => o.says === t.says).length === 1)
}
