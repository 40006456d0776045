import { Wrench } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { keep, recallWord } from '../../../model/device'
import { day } from '../../../model/when'
import type { WorkProps } from '../useWork'

const key = (kind: string) => `tool:${kind}`

export type Accepted = Record<string, string>

/** The tool of each kind that is used here: the last one taken on this device, else the one longest in date; one past
 *  its date only where it was `accepted`. */
export function toolsFor(
  work: WorkProps['work'],
  kinds: readonly string[],
  accepted: Accepted = {},
): Record<string, string> {
  const found: Record<string, string> = {}
  for (const kind of kinds) {
    const good = work.tools.filter((t) => t.kind === kind && t.good)
    const last = recallWord(key(kind))
    const tool = good.find((t) => t.name === last) ?? good[0]
    const name = tool?.name ?? accepted[kind]
    if (name) found[kind] = name
  }
  return found
}

/** Kinds of which the site keeps tools, none of them in date, and none accepted all the same. */
export function lackingTools(
  work: WorkProps['work'],
  kinds: readonly string[],
  accepted: Accepted,
): string[] {
  const taken = toolsFor(work, kinds, accepted)
  return kinds.filter((kind) => !taken[kind] && work.tools.some((t) => t.kind === kind))
}

/** What a step is done and read with: what it names, and the instruments of the figures that were read. */
export function kindsOf(
  work: WorkProps['work'],
  step: WorkProps['work']['plan']['steps'][number],
  read: string[],
) {
  const instruments = step.gates.filter((g) => read.includes(g.id)).map((g) => g.instrument)
  return [...new Set([...step.tools, ...instruments])].filter(
    (kind) => step.tools.includes(kind) || work.tools.some((t) => t.kind === kind),
  )
}

/** Which tool is in the hand, and until when it is calibrated; changed by one touch. */
export function ToolPick({
  work,
  kinds,
  heat,
  accepted,
  accept,
}: {
  work: WorkProps['work']
  kinds: readonly string[]
  heat: number | null
  accepted: Accepted
  /** Takes a tool past its date; only for those who may say that it serves. */
  accept?: (kind: string, tool: string) => void
}) {
  const [, setTurn] = useState(0)
  const taken = toolsFor(work, kinds)
  return (
    <ul className="flex flex-col gap-1">
      {kinds.map((kind) => {
        const all = work.tools.filter((t) => t.kind === kind)
        const good = all.filter((t) => t.good)
        const tool = good.find((t) => t.name === taken[kind])
        const name = kind.replaceAll('-', ' ')
        const change = () => {
          const next = good[(good.findIndex((t) => t.name === tool?.name) + 1) % good.length]
          if (next) keep(key(kind), next.name)
          setTurn((n) => n + 1)
        }
        return (
          <li key={kind} className="flex min-h-12 items-center gap-2 text-lg">
            <Wrench size={18} aria-hidden />
            {tool ? (
              <>
                <span>
                  {name} <b>{tool.name}</b>
                  <span className="quiet">
                    {tool.days_left === null ? '' : `, calibrated for ${tool.days_left} more days`}
                  </span>
                  {kind === 'heat-gun' && heat !== null && <Dial work={work} tool={tool.name} heat={heat} />}
                </span>
                {good.length > 1 && (
                  <button type="button" className="btn ml-auto min-h-12" onClick={change}>
                    Another
                  </button>
                )}
              </>
            ) : all.length ? (
              <span className="font-semibold text-error">
                No {name} is in calibration:{' '}
                {all.map((t) => `${t.name} until ${t.due ? day(t.due) : 'an unknown date'}`).join(', ')}.{' '}
                {accepted[kind]
                  ? `${accepted[kind]} is taken all the same; say why below.`
                  : accept
                    ? ''
                    : 'Take one that is, or have a verifier say, signed in here, why one of these serves.'}
                {accept &&
                  !accepted[kind] &&
                  all.map((t) => (
                    <button
                      key={t.name}
                      type="button"
                      className="btn mt-1 mr-2 min-h-12"
                      onClick={() => accept(kind, t.name)}
                    >
                      Take {t.name} all the same
                    </button>
                  ))}
              </span>
            ) : (
              <span className="quiet">
                {name}: none is listed, so no date is checked. A verifier lists them under{' '}
                <Link className="link" to="/tools">
                  Tools
                </Link>
                .
              </span>
            )}
          </li>
        )
      })}
    </ul>
  )
}

/** Where the gun's dial goes, by its own calibration. */
function Dial({ work, tool, heat }: { work: WorkProps['work']; tool: string; heat: number }) {
  const found = work.dials.find((d) => d.tool === tool && d.heat_c === heat)
  const shown = Math.round(heat)
  return (
    <span className="block text-xl font-bold">
      {found?.dial != null ? `Dial ${found.dial.toFixed(1)} for ${shown} °C` : `Set it to ${shown} °C`}
      {found?.reason && <span className="block text-base font-medium text-error">{found.reason}</span>}
    </span>
  )
}
