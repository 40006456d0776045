import type { KeyboardEvent } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { StateWord, UNREADABLE } from '../../components/notes'

type Board = Schemas['Board']
type Named = Schemas['Named']

const W = 1000
const PAD = 36
const WORDS = 210
const BESIDE = 36 // px between knots of joints at one place

/** What a knot says: the state, or that the joint cannot be read. */
export const said = (joint: Named) => (joint.unreadable ? UNREADABLE : joint.state)

const many = (knot: Schemas['KnotOut']) => knot.joints.length + knot.more

/** How far each knot's words hang lower, px, so that those of its neighbour do not lie on them. */
function lowered(knots: Schemas['KnotOut'][], x: (m: number) => number): number[] {
  const drops: number[] = []
  knots.forEach((knot, i) => {
    const last = knots[i - 1]
    const near = last && x(knot.at_m) - x(last.at_m) < WORDS
    drops.push(near && !drops[i - 1] ? Math.min(2, many(last)) * 21 : 0)
  })
  return drops
}

/** Keys move from knot to knot: left and right along a line, up and down between lines. */
function walk(e: KeyboardEvent) {
  if (!e.key.startsWith('Arrow')) return
  const knots = [...document.querySelectorAll<SVGElement | HTMLElement>('[data-knot]')]
  const at = knots.indexOf(document.activeElement as HTMLElement)
  if (at < 0) return
  e.preventDefault()
  const line = knots[at]?.dataset.knot
  const next =
    e.key === 'ArrowRight'
      ? knots[at + 1]
      : e.key === 'ArrowLeft'
        ? knots[at - 1]
        : e.key === 'ArrowDown'
          ? knots.slice(at).find((k) => k.dataset.knot !== line)
          : knots
              .slice(0, at)
              .reverse()
              .find((k) => k.dataset.knot !== line)
  ;(next as HTMLElement | undefined)?.focus()
}

export function Lines({ board }: { board: Board }) {
  const far = board.far_m
  const x = (m: number) => PAD + (m / far) * (W - 2 * PAD)
  const step = [10, 25, 50, 100, 200, 250, 500, 1000, 2000, 5000].find((s) => far / s <= 12) ?? 10_000
  return (
    <section className="mt-4 overflow-x-auto" onKeyDown={walk} aria-label="Joints along their lines">
      <div className="relative min-w-[860px]">
        <div className="absolute inset-0" aria-hidden="true">
          {board.zones.map((z) => (
            <div
              key={z.name}
              className="absolute top-7 bottom-8 bg-base-300/45"
              style={{ left: `${x(z.from_m) / 10}%`, width: `${(x(z.to_m) - x(z.from_m)) / 10}%` }}
            />
          ))}
        </div>
        <div className="relative h-7">
          {board.zones.map((z) => (
            <span
              key={z.name}
              className="quiet absolute text-base font-medium whitespace-nowrap"
              style={
                z.to_m > far * 0.9 ? { right: `${100 - x(z.to_m) / 10}%` } : { left: `${x(z.from_m) / 10}%` }
              }
            >
              {z.name}
            </span>
          ))}
        </div>
        {board.lines.map((line) => {
          const knots = board.knots.filter((k) => k.line_id === line.id)
          const drops = lowered(knots, x)
          return (
            <section
              key={line.id}
              className={`relative ${drops.some((d) => d > 0) ? 'h-44' : 'h-36'}`}
              aria-label={line.name}
            >
              <h2 className="absolute top-1 left-[3.6%] text-lg font-medium">{line.name}</h2>
              <div
                className="absolute top-[52px] h-1.5 bg-[var(--sheath)]"
                style={{ left: `${x(0) / 10}%`, width: `${(x(line.length_m) - x(0)) / 10}%` }}
              />
              {knots.map((knot, i) => (
                <Knot key={knot.at_m} knot={knot} left={x(knot.at_m) / 10} drop={drops[i] ?? 0} />
              ))}
            </section>
          )
        })}
        <div className="relative h-8" aria-hidden="true">
          {Array.from({ length: Math.floor(far / step) + 1 }, (_, i) => i * step).map((m) => (
            <span
              key={m}
              className="quiet absolute top-2 -translate-x-1/2 text-base"
              style={{ left: `${x(m) / 10}%` }}
            >
              {m}
            </span>
          ))}
        </div>
      </div>
      {board.loose.items.length > 0 && (
        <section className="mt-2">
          <h2>Not on a line</h2>
          <ul className="flex flex-wrap gap-x-6">
            {board.loose.items.map((j) => (
              <li key={j.ref}>
                <Link className="flex min-h-11 items-center gap-2" to={`/joints/${j.ref}`} data-knot="loose">
                  <b>{j.ref}</b> {j.title} <StateWord state={said(j)} />
                </Link>
              </li>
            ))}
          </ul>
          <More many={board.loose.more} />
        </section>
      )}
    </section>
  )
}

/** That a list goes on, and where. */
export function More({ many }: { many: number }) {
  if (!many) return null
  return (
    <p className="quiet">
      and {many} more, in the{' '}
      <Link className="link" to="/register">
        register
      </Link>
    </p>
  )
}

function Knot({ knot, left, drop }: { knot: Schemas['KnotOut']; left: number; drop: number }) {
  const side = left > 90 ? '-translate-x-[85%]' : left < 10 ? '-translate-x-[15%]' : '-translate-x-1/2'
  const middle = (knot.joints.length - 1) / 2
  return (
    <>
      {knot.joints.map((joint, i) => (
        <Link
          key={joint.ref}
          to={`/joints/${joint.ref}`}
          data-knot={knot.line_id}
          className="absolute top-[33px] -translate-x-1/2 rounded-full"
          style={{ left: `calc(${left}% + ${(i - middle) * BESIDE}px)` }}
          aria-label={`${joint.ref}, ${joint.title}, ${said(joint)}${joint.limits ? `: ${joint.limits}` : ''}`}
        >
          <KnotShape state={said(joint)} share={joint.share} />
        </Link>
      ))}
      <div
        className={`pointer-events-none absolute text-center leading-tight ${side}`}
        style={{ left: `${left}%`, top: 80 + drop }}
      >
        {knot.joints.map((j) => (
          <span key={j.ref} className="block whitespace-nowrap">
            <b>{j.ref}</b> <StateWord state={said(j)} tight />
          </span>
        ))}
        {knot.more > 0 && <span className="quiet">and {knot.more} more</span>}
      </div>
    </>
  )
}

function KnotShape({ state, share }: { state: string; share: number }) {
  const ring = 2 * Math.PI * 16
  return (
    <svg width="44" height="44" viewBox="-22 -22 44 44" aria-hidden="true">
      <circle r={18} fill="var(--color-base-200)" />
      {state.startsWith('released') && (
        <>
          <circle r={15} fill="var(--color-success)" />
          <path d="M-7 0l5 5 9-10" fill="none" stroke="var(--color-success-content)" strokeWidth={3.4} />
        </>
      )}
      {state === 'draft' && (
        <circle r={13} fill="none" stroke="var(--quiet)" strokeWidth={3} strokeDasharray="3 5" />
      )}
      {state === 'planned' && (
        <circle r={13} fill="var(--color-base-100)" stroke="var(--color-base-content)" strokeWidth={3.4} />
      )}
      {state === 'building' && (
        <>
          <circle r={16} fill="none" stroke="var(--color-base-300)" strokeWidth={5} />
          <circle
            r={16}
            fill="none"
            stroke="var(--color-primary)"
            strokeWidth={5}
            strokeDasharray={`${share * ring} ${ring}`}
            transform="rotate(-90)"
          />
          <circle r={6} fill="var(--color-primary)" />
        </>
      )}
      {state === 'curing' && (
        <>
          <circle r={15} fill="none" stroke="var(--color-base-300)" strokeWidth={7} />
          <circle
            r={15}
            fill="none"
            stroke="var(--resin)"
            strokeWidth={7}
            strokeDasharray={`${share * 2 * Math.PI * 15} 100`}
            transform="rotate(-90)"
          />
        </>
      )}
      {(state === 'to prove' || state === 'to release') && (
        <>
          <rect x={-14} y={-14} width={28} height={28} fill="var(--color-warning)" />
          <path
            d={state === 'to prove' ? 'M-8 3l4-7 5 8 6-9' : 'M-8 0h14M0-6l7 6-7 6'}
            fill="none"
            stroke="var(--color-warning-content)"
            strokeWidth={2.8}
          />
        </>
      )}
      {state === UNREADABLE && (
        <>
          <circle r={15} fill="var(--color-base-100)" stroke="var(--color-error)" strokeWidth={3.4} />
          <path d="M-11 11L11-11" stroke="var(--color-error)" strokeWidth={3.4} />
        </>
      )}
      {state === 'stopped' && (
        <>
          <rect x={-13} y={-13} width={26} height={26} fill="var(--color-error)" transform="rotate(45)" />
          <path d="M-5-5l10 10M5-5l-10 10" stroke="var(--color-error-content)" strokeWidth={3.4} />
        </>
      )}
    </svg>
  )
}
