import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, take } from '../../api/client'
import { ErrorNote } from '../../components/notes'
import { useMay } from '../../session'

const KINDS: Record<string, string> = {
  calliper: 'calliper',
  tape: 'measuring tape',
  'insulation-tester': 'insulation tester',
  'low-ohm-meter': 'low-resistance meter',
  thermometer: 'thermometer',
  'torque-driver': 'torque driver',
  printer: 'label printer',
}

/** What readings can be taken from by one touch: nothing, until an admin adds it. */
export function Instruments() {
  const client = useQueryClient()
  const admin = useMay('admin')
  const found = useQuery({
    queryKey: ['instruments'],
    queryFn: () => take(api.GET('/api/v1/instruments')),
  })
  const change = useMutation({
    mutationFn: ({ kind, present }: { kind: string; present: boolean }) =>
      take(api.PUT('/api/v1/instruments/{kind}', { params: { path: { kind } }, body: { present } })),
    onSuccess: (now) => {
      client.setQueryData(['instruments'], now)
      void client.invalidateQueries({ queryKey: ['work'] })
    },
  })
  const there = new Set(found.data?.items.map((i) => i.kind))
  if (!admin && !there.size) return null
  return (
    <section className="rule-top mt-8 pt-4" aria-label="Instruments">
      <h2>Instruments</h2>
      <p className="quiet text-lg">
        None is connected until an admin adds it. Those that can be added so far are simulated, for practice:
        their readings are made up, are marked as simulated in the record, and prove nothing.
      </p>
      {change.error && <ErrorNote error={change.error} />}
      <ul className="rows mt-3 max-w-2xl">
        {Object.entries(KINDS)
          .filter(([kind]) => admin || there.has(kind))
          .map(([kind, name]) => (
            <li
              key={kind}
              className="grid min-h-12 grid-cols-[1fr_auto] items-center gap-x-3 py-1 text-lg sm:grid-cols-[1fr_6rem_14rem]"
            >
              <span className="order-first">{name}</span>
              <span className={there.has(kind) ? 'font-semibold text-warning' : 'quiet'}>
                {there.has(kind) ? 'simulated' : 'none'}
              </span>
              {admin && (
                <button
                  type="button"
                  className="btn col-span-full min-h-12 sm:col-span-1"
                  disabled={change.isPending}
                  onClick={() => change.mutate({ kind, present: !there.has(kind) })}
                  aria-label={`${there.has(kind) ? 'Take away' : 'Add a simulated'} ${name}`}
                >
                  {there.has(kind) ? 'Take away' : 'Add a simulated one'}
                </button>
              )}
            </li>
          ))}
      </ul>
    </section>
  )
}
