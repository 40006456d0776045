import { useInfiniteQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { Link } from 'react-router'
import { api, take } from '../../api/client'
import { Field, TextField } from '../../components/fields'
import { ErrorNote, Loading, StateWord } from '../../components/notes'

const STATES = [
  'draft',
  'planned',
  'building',
  'stopped',
  'curing',
  'to prove',
  'to release',
  'released',
  'released with a limit',
]

export function Register() {
  const [text, setText] = useState('')
  const [state, setState] = useState('')
  const asked = useDeferredValue(text)
  const found = useInfiniteQuery({
    queryKey: ['register', asked, state],
    initialPageParam: null as string | null,
    queryFn: ({ pageParam }) =>
      take(
        api.GET('/api/v1/joints', {
          params: { query: { text: asked, state: state || null, cursor: pageParam } },
        }),
      ),
    getNextPageParam: (page) => page.next,
    placeholderData: (before) => before,
  })
  const items = found.data?.pages.flatMap((p) => p.items) ?? []
  return (
    <main className="mx-auto w-full max-w-5xl p-4 md:p-6">
      <h1>Register</h1>
      <div className="mt-4 grid gap-4 sm:grid-cols-[1fr_14rem]">
        <TextField
          label="Find in reference, title, place, reason"
          value={text}
          onChange={setText}
          type="search"
        />
        <Field label="State">
          {({ id }) => (
            <select
              id={id}
              className="select w-full"
              value={state}
              onChange={(e) => setState(e.target.value)}
            >
              <option value="">any</option>
              {STATES.map((s) => (
                <option key={s}>{s}</option>
              ))}
            </select>
          )}
        </Field>
      </div>
      {found.isPending && <Loading what="the register" />}
      {found.error && <ErrorNote error={found.error} again={() => found.refetch()} />}
      {found.data && !items.length && <p className="mt-6 text-lg">No joint matches.</p>}
      <ul className="rows mt-4">
        {items.map((j) => (
          <li key={j.ref}>
            <Link
              to={`/joints/${j.ref}`}
              className="grid min-h-12 grid-cols-[7rem_1fr] gap-x-4 gap-y-0.5 py-2 hover:bg-base-100 md:grid-cols-[7rem_1fr_14rem_8rem]"
            >
              <b className="text-lg">{j.ref}</b>
              <span>
                <span className="font-medium">{j.title}</span> <span className="quiet">{j.where}</span>
              </span>
              <span className="quiet">
                {j.line ? `${j.line}${j.at_m !== null ? `, ${j.at_m} m` : ''}` : ''}
              </span>
              <span>
                <StateWord state={j.state} />
                {j.limits && <span className="block text-warning">{j.limits}</span>}
                {j.late && <span className="block font-semibold text-error">{j.late}</span>}
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {found.hasNextPage && (
        <button type="button" className="btn mt-4" onClick={() => found.fetchNextPage()}>
          Older ones
        </button>
      )}
    </main>
  )
}
