import { Wrench } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { keep, recallWord } from '../../../model/device'
import { day } from '../../../model/when'
import type { WorkProps } from '../useWork'

const key = (kind: string) => `tool:${kind}`

/** The tool of each kind that is used here: the last one taken on this device, else the one longest in date. */
export function toolsFor(work: WorkProps['work'], kinds: readonly string[]): Record<string, string> {
  const found: Record<string, string> = {}
  for (const kind of kinds) {
    const good = work.tools.filter((t) => t.kind === kind && t.good)
    const last = recallWord(key(kind))
    const tool = good.find((t) => t.name === last) ?? good[0]
    if (tool) found[kind] = tool.name
  }
  return found
}

/** Which tool is in the hand, and until when it is calibrated; changed by one touch. */
export function ToolPick({
  work,
  kinds,
  heat,
}: {
  work: WorkProps['work']
  kinds: readonly string[]
  heat: number | null
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
                {all.map((t) => `${t.name} until ${t.due ? day(t.due) : 'an unknown date'}`).join(', ')}
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
