import { useQuery } from '@tanstack/react-query'
import { useCallback, useDeferredValue, useState } from 'react'
import { Link } from 'react-router'
import { api, type Schemas, take } from '../../api/client'
import { FitRuler } from '../../components/FitRuler'
import { QuantityField } from '../../components/fields'
import { ErrorNote } from '../../components/notes'
import { spoken } from '../../model/said'
import { length, limit, sign, sleeveName } from '../../model/units'
import { useSettings } from '../../settings'

export function FitCheck() {
  const [pass, setPass] = useState<number | null>(null)
  const [seal, setSeal] = useState<number | null>(null)
  const [covered, setCovered] = useState<number | null>(100)
  const [lined, setLined] = useState(false)
  const asked = useDeferredValue(
    pass && seal
      ? { pass_od_mm: pass, seal_od_mm: seal, covered_mm: covered || 100, need_lined: lined }
      : null,
  )
  const { unit } = useSettings()
  const answer = useQuery({
    queryKey: ['fit', asked],
    select: useCallback((choice: Schemas['ChoiceOut']) => spoken(choice, unit), [unit]),
    queryFn: () => take(api.POST('/api/v1/fit', { body: asked ?? { pass_od_mm: 1, seal_od_mm: 1 } })),
    enabled: asked !== null,
    placeholderData: (before) => before,
    retry: 0,
  })
  return (
    <main className="grid grow gap-8 p-4 md:grid-cols-[17rem_1fr] md:p-6">
      <form className="flex flex-col gap-4" onSubmit={(e) => e.preventDefault()}>
        <h1>Fit check</h1>
        <QuantityField autoFocus label="Must pass (the thickest on the way)" mm={pass} onChange={setPass} />
        <QuantityField label="Must grip (the thinnest it seals on)" mm={seal} onChange={setSeal} />
        <QuantityField label="Must cover" mm={covered} onChange={setCovered} />
        <label className="flex min-h-11 items-center gap-3">
          <input
            type="checkbox"
            className="checkbox checkbox-primary"
            checked={lined}
            onChange={(e) => setLined(e.target.checked)}
          />
          Adhesive-lined only
        </label>
        <p className="quiet text-sm">From the van's own stock. Heat never makes a 2:1 sleeve a 3:1.</p>
      </form>
      <section aria-live="polite">
        {answer.error ? (
          <ErrorNote error={answer.error} again={() => answer.refetch()} />
        ) : asked && answer.data ? (
          <Answer choice={answer.data} />
        ) : (
          <Empty />
        )}
      </section>
    </main>
  )
}

function Answer({ choice }: { choice: Schemas['ChoiceOut'] }) {
  const { unit } = useSettings()
  const best = choice.candidates.find((c) => c.part_id === choice.picked)
  return (
    <>
      {best ? (
        <>
          <p className="answer">
            {sleeveName(best.expanded_id_mm, best.recovered_id_mm, unit)}, cut{' '}
            {length(best.cut_length_mm ?? 0, unit)} {sign(unit)}
          </p>
          <p className="mt-1 text-lg">
            {best.name}
            {best.on_hand_mm !== null && `, ${(best.on_hand_mm / 1000).toFixed(1)} m on hand`}. Ratio needed{' '}
            {choice.ratio_needed.toFixed(2)}, it has {(best.expanded_id_mm / best.recovered_id_mm).toFixed(2)}
            .
          </p>
        </>
      ) : (
        <>
          <p className="answer text-error">Nothing in stock fits</p>
          <p className="mt-1 text-lg">
            {choice.advice ||
              `Look for one that opens past ${limit(choice.needed_expanded_mm, unit, 'up')} and closes under ${limit(choice.allowed_recovered_mm, unit, 'down')} ${sign(unit)}.`}
          </p>
          {choice.candidates.length === 0 && (
            <p className="mt-3">
              The stock is empty.{' '}
              <Link className="link" to="/stock">
                Fill it
              </Link>{' '}
              first: a starter stock, a list, or part by part.
            </p>
          )}
        </>
      )}
      <div className="mt-5 max-w-5xl">{choice.candidates.length > 0 && <FitRuler choice={choice} />}</div>
    </>
  )
}

function Empty() {
  return (
    <div className="flex h-full min-h-60 flex-col justify-center">
      <p className="answer quiet">Two diameters in, the answer at once</p>
      <svg viewBox="0 0 640 120" className="mt-6 w-full max-w-2xl" aria-hidden="true">
        <rect x="40" y="44" width="220" height="32" fill="var(--sheath)" />
        <rect x="260" y="24" width="150" height="72" fill="var(--metal)" />
        <path d="M410 44h190M410 76h190" stroke="var(--sheath)" strokeWidth="2" />
        <path d="M60 36v48M52 36h16M52 84h16" stroke="var(--color-success)" strokeWidth="2" />
        <path d="M335 16v88M326 16h18M326 104h18" stroke="var(--color-success)" strokeWidth="2" />
        <text x="76" y="112" fontSize="17" fill="var(--color-base-content)">
          must grip
        </text>
        <text x="352" y="118" fontSize="17" fill="var(--color-base-content)">
          must pass
        </text>
      </svg>
    </div>
  )
}
