import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, type Schemas, take } from '../../api/client'
import { SelectField } from '../../components/fields'
import { ErrorNote } from '../../components/notes'
import { useSession } from '../../session'

type Writing = Schemas['Writing']
type Dates = NonNullable<Writing['dates']>

const ORDERS: [NonNullable<Dates['order']>, string][] = [
  ['day-month-year', '27 Nov 2026'],
  ['month-day-year', 'Nov 27, 2026'],
  ['year-month-day', '2026-11-27'],
]

/** How dates, hours and lengths are written at this site; an admin changes it. */
export function WritingForm({ admin }: { admin: boolean }) {
  const { site } = useSession()
  const client = useQueryClient()
  const save = useMutation({
    mutationFn: (body: Schemas['WritingIn']) => take(api.PUT('/api/v1/site/writing', { body })),
    onSuccess: () => client.invalidateQueries({ queryKey: ['session'] }),
  })
  if (!admin) return null
  const { dates, unit } = site
  const change = (changed: Partial<Dates>) => save.mutate({ unit, dates: { ...dates, ...changed } })
  return (
    <section className="mt-4 bg-base-100 p-4" aria-labelledby="writing">
      <h2 id="writing">How this site writes</h2>
      <div className="mt-2 grid gap-3 sm:grid-cols-3">
        <SelectField
          label="Dates"
          value={dates.order ?? 'day-month-year'}
          options={ORDERS}
          onChange={(order) => change({ order: order as Dates['order'] })}
        />
        <SelectField
          label="Time of day"
          value={String(dates.hours ?? 24)}
          options={[
            ['24', '15:45'],
            ['12', '3:45 PM'],
          ]}
          onChange={(hours) => change({ hours: hours === '12' ? 12 : 24 })}
        />
        <SelectField
          label="A new device begins with"
          value={unit ?? 'mm'}
          options={[
            ['mm', 'millimetres'],
            ['inch', 'inches'],
          ]}
          onChange={(u) => save.mutate({ dates, unit: u === 'inch' ? 'inch' : 'mm' })}
        />
      </div>
      {save.error && <ErrorNote error={save.error} />}
    </section>
  )
}
