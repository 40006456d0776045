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

const ZONES = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((z) => z !== 'UTC')]

/** How dates, hours and lengths are written at this site; an admin changes it. */
export function WritingForm({ admin }: { admin: boolean }) {
  const { site } = useSession()
  const client = useQueryClient()
  const save = useMutation({
    mutationFn: (changed: Schemas['WritingIn']) =>
      take(
        api.PUT('/api/v1/site/writing', {
          params: { header: { 'If-Match': `"${site.version}"` } },
          body: { dates: site.dates, unit: site.unit, zone: site.zone, ...changed },
        }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: ['session'] }),
  })
  if (!admin) return null
  const { dates, unit } = site
  const change = (changed: Partial<Dates>) => save.mutate({ dates: { ...dates, ...changed } })
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
          onChange={(u) => save.mutate({ unit: u === 'inch' ? 'inch' : 'mm' })}
        />
        <SelectField
          label="Time zone of the site"
          value={site.zone}
          options={
            ZONES.includes(site.zone) ? ZONES.map((z) => [z, z]) : [site.zone, ...ZONES].map((z) => [z, z])
          }
          onChange={(zone) => save.mutate({ zone })}
        />
      </div>
      <p className="quiet mt-2">
        Lots and calibrations run out at the end of their day, permits at their hour, by the time zone of the
        site.
      </p>
      {save.error && <ErrorNote error={save.error} />}
    </section>
  )
}
