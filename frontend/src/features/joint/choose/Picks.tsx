import type { Schemas } from '../../../api/client'

/** Parts that have no window: what is needed, what was taken, and why the rest does not serve. */
export function Picks({ picks }: { picks: Schemas['PickOut'][] }) {
  return (
    <div className="mt-3 grid max-w-4xl gap-5">
      {picks.map((p) => {
        const taken = p.offers.find((o) => o.id === p.picked)
        return (
          <section key={p.layer} aria-label={p.title}>
            <p className={`answer ${taken ? '' : 'text-error'}`}>
              {taken ? taken.name : `No ${p.title} in stock serves`}
            </p>
            <p className="text-lg">
              <b>{capital(p.title)}.</b> Needed: {p.need}. {capital(taken ? taken.reason : p.advice)}
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

function capital(words: string): string {
  return words.slice(0, 1).toUpperCase() + words.slice(1)
}
