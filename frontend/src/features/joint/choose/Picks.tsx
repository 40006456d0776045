import type { Schemas } from '../../../api/client'
import { now } from '../../../model/clock'
import { soon } from '../../../model/when'

/** Parts that have no window: what is needed, what was taken, and why the rest does not serve. */
export function Picks({ picks }: { picks: Schemas['PickOut'][] }) {
  return (
    <div className="mt-3 grid max-w-4xl gap-5">
      {picks.map((p) => {
        const taken = p.offers.find((o) => o.id === p.picked)
        return (
          <section key={p.layer} aria-label={p.title}>
            <p className={`answer ${taken ? '' : 'text-error'}`}>
              {taken ? capital(taken.name) : `No ${p.title} in stock serves`}
            </p>
            <p className="text-lg">
              <b>{capital(p.title)}.</b> Needed: {p.need}. {capital(taken ? taken.reason : p.advice)}
              {taken && cured(taken)}
            </p>
            <ul className="rows mt-1">
              {p.offers
                .filter((o) => o !== taken)
                .map((o) => (
                  <li key={o.id} className="flex flex-wrap gap-x-3 py-1.5">
                    <span className={o.serves ? 'font-semibold' : ''}>{o.name}</span>
                    <span className="quiet">
                      {o.serves ? 'would serve: ' : ''}
                      {o.reason}
                      {cured(o)}
                    </span>
                  </li>
                ))}
            </ul>
          </section>
        )
      })}
    </div>
  )
}

/** When what is begun now would be done; nothing for what does not cure. */
function cured(o: Schemas['OfferOut']): string {
  if (typeof o.full_min !== 'number' || typeof o.handle_min !== 'number') return ''
  const begun = now()
  const [handled, full] = [o.handle_min, o.full_min].map((min) => soon(begun + min * 60_000, new Date(begun)))
  return `. Begun now: handled from ${handled}, put to use from ${full}`
}

function capital(words: string): string {
  return words.slice(0, 1).toUpperCase() + words.slice(1)
}
