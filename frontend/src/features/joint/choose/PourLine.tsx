import type { Schemas } from '../../../api/client'

type Pack = Schemas['PackTime']

/** Several packs on one line of minutes: each mixed, poured, and when it gels; what has to be in by then. */
export function PourLine({ packs, alone }: { packs: Pack[]; alone: boolean }) {
  if (packs.length < 2) return null
  const end = Math.max(...packs.map((p) => Math.max(p.pour_to_min, p.gels_at_min)))
  const at = (min: number) => `${(100 * min) / end}%`
  const bar = (from: number, to: number) => ({ left: at(from), width: at(to - from) })
  return (
    <figure className="mt-4" aria-label="When each pack is mixed and poured">
      <figcaption className="text-lg font-medium">
        {packs.length} packs, each by its own clock.{' '}
        {alone
          ? 'Alone: pour one before the next is opened.'
          : 'Two people: one pours while the other mixes.'}
      </figcaption>
      <ol className="mt-2 flex flex-col gap-1">
        {packs.map((p) => (
          <li key={p.pack} className="grid grid-cols-[4.5rem_1fr] items-center gap-2">
            <span className="font-medium">pack {p.pack}</span>
            <span className="relative h-7 bg-base-300">
              <span
                className="absolute inset-y-0 border border-primary bg-base-100"
                style={bar(p.mix_from_min, p.mix_to_min)}
              />
              <span className="absolute inset-y-0 bg-primary" style={bar(p.pour_from_min, p.pour_to_min)} />
              <span
                className="absolute inset-y-0 w-1 bg-error"
                style={{ left: `calc(${at(p.gels_at_min)} - 4px)` }}
              />
              <span className="sr-only">
                mixed from {minutes(p.mix_from_min)} to {minutes(p.mix_to_min)}, poured by{' '}
                {minutes(p.pour_to_min)}, gels at {minutes(p.gels_at_min)}
              </span>
            </span>
          </li>
        ))}
      </ol>
      <p className="quiet mt-1 flex flex-wrap gap-x-4 pl-[5rem] text-base">
        <span>
          <span className="mr-1 inline-block size-3 border border-primary bg-base-100" aria-hidden /> mixed
        </span>
        <span>
          <span className="mr-1 inline-block size-3 bg-primary" aria-hidden /> poured
        </span>
        <span>
          <span className="mr-1 inline-block h-3 w-1 bg-error" aria-hidden /> gels
        </span>
        <span className="ml-auto">all in after {minutes(packs.at(-1)?.pour_to_min ?? 0)}</span>
      </p>
    </figure>
  )
}

const minutes = (min: number) => `${min < 10 ? min.toFixed(1).replace('.0', '') : Math.round(min)} min`
