import { useQuery } from '@tanstack/react-query'
import { api, take } from '../../api/client'
import { ErrorNote } from '../../components/notes'
import { moment } from '../../model/when'

/** What was changed of whose account, and by whom: so that nobody signs under a name unseen. */
export function AccountChanges() {
  const changes = useQuery({
    queryKey: ['people', 'changes'],
    queryFn: () => take(api.GET('/api/v1/people/changes')),
  })
  if (changes.error) return <ErrorNote error={changes.error} again={() => changes.refetch()} />
  if (!changes.data?.items.length) return null
  return (
    <section className="mt-8" aria-labelledby="account-changes">
      <h2 id="account-changes">Changes of accounts</h2>
      <ul className="rows mt-1">
        {changes.data.items.map((c) => (
          <li key={`${c.at} ${c.person} ${c.what}`} className="flex min-h-11 flex-wrap items-center gap-x-3">
            <span className="quiet">{moment(c.at)}</span>
            <b>{c.person}</b>
            <span>{c.what}</span>
            <span className="quiet ml-auto">by {c.by}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
