import type { Schemas } from '../../api/client'

const WORDS: Record<string, [string, string]> = {
  release: ['May be released', 'border-success'],
  limit: ['May be released with a limit', 'border-warning'],
  remake: ['Not to be released: remake', 'border-error'],
  'not-yet': ['Not to be released yet', 'border-base-300'],
}

/** What readings, deviations and faults add up to, with the reasons. */
export function Verdict({ judgement }: { judgement: Schemas['Judgement'] }) {
  const [words, tone] = WORDS[judgement.verdict] ?? [judgement.verdict, '']
  return (
    <section className={`border-l-6 bg-base-100 px-4 py-2 ${tone}`} aria-label="Verdict">
      <h2>{words}</h2>
      <ul className="text-lg">
        {judgement.reasons.map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
    </section>
  )
}
