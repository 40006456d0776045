import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, type Schemas, take } from '../../api/client'
import { ErrorNote } from '../../components/notes'

type Report = Schemas['ImportReport']

/** A list is checked whole and shown before anything is taken. `starter`: the one that ships, to begin with. */
export function ImportStock({ starter = false, close }: { starter?: boolean; close: () => void }) {
  const [text, setText] = useState('')
  const client = useQueryClient()
  const send = useMutation({
    mutationFn: ({ body, apply }: { body: string; apply: boolean }) =>
      take(api.POST('/api/v1/stock-import', { body: { text: body, apply } })),
    onSuccess: (report) => report.applied && client.invalidateQueries({ queryKey: ['stock'] }),
  })
  const check = (body: string) => {
    setText(body)
    send.mutate({ body, apply: false })
  }
  const begin = useQuery({
    queryKey: ['stock-starter'],
    queryFn: () => take(api.GET('/api/v1/stock-starter')),
    enabled: starter,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const laid = starter ? begin.data?.text : undefined
  const { mutate } = send
  useEffect(() => {
    if (!laid) return
    setText(laid)
    mutate({ body: laid, apply: false })
  }, [laid, mutate])
  const report = send.data
  return (
    <section className="mt-4 bg-base-100 p-4" aria-label="Import a list">
      <h2>{starter ? 'The starter stock' : 'Import a list'}</h2>
      {starter && (
        <p className="note my-2">
          Everyday sizes, invented to begin with: they are nobody’s catalogue. Take out or change lines below
          and check again, or take all; then count your own shelf and put the amounts right.
        </p>
      )}
      {begin.error && <ErrorNote error={begin.error} again={() => begin.refetch()} />}
      <p className="quiet">
        CSV with the columns kind, id and the figures, one line a lot, as “Save as CSV” writes it. Sleeves are
        counted in metres (m in the column unit; without that column in mm), everything else in pieces or
        rolls. All of it is taken, or nothing.
      </p>
      <div className="mt-3 flex flex-wrap gap-3">
        <input
          type="file"
          aria-label="File with the list"
          accept=".csv,text/csv,text/plain"
          className="file-input"
          onChange={async (e) => {
            const file = e.target.files?.[0]
            if (file) check(await file.text())
          }}
        />
        <button type="button" className="btn" onClick={close}>
          Close
        </button>
      </div>
      <textarea
        className="textarea mt-3 h-28 w-full font-mono text-sm"
        aria-label="Or paste the list here"
        placeholder="kind,id,expanded_id_mm,recovered_id_mm,recovered_wall_mm,lot,quantity,unit"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <button
        type="button"
        className="btn mt-2"
        disabled={!text.trim() || send.isPending}
        onClick={() => check(text)}
      >
        Check it
      </button>
      {send.error && <ErrorNote error={send.error} />}
      {report && <Outcome report={report} take={() => send.mutate({ body: text, apply: true })} />}
    </section>
  )
}

function Outcome({ report, take }: { report: Report; take: () => void }) {
  if (report.applied)
    return <p className="mt-4 text-lg font-semibold text-success">Taken: {report.changes.length} changes.</p>
  return (
    <div className="mt-4" aria-live="polite">
      {report.errors.length > 0 ? (
        <div className="fault">
          <p className="font-semibold">
            Nothing was taken.{' '}
            {report.errors.length === 1
              ? 'One line needs mending:'
              : `${report.errors.length} places need mending:`}
          </p>
          <ul>
            {report.errors.slice(0, 50).map((e) => (
              <li key={`${e.line}${e.column}${e.message}`}>
                <b>Line {e.line}</b>
                {e.column && `, ${e.column}`}: {e.message}
              </li>
            ))}
          </ul>
        </div>
      ) : (
        <button type="button" className="btn btn-primary" disabled={!report.changes.length} onClick={take}>
          Take all {report.changes.length} changes
        </button>
      )}
      <p className="mt-3">
        {report.changes.length} changes, {report.unchanged} lines as they are.
      </p>
      <ul className="rows max-h-72 overflow-y-auto">
        {report.changes.map((c) => (
          <li key={c.line} className="py-1">
            <span className="quiet">line {c.line}</span> <b>{c.part_id}</b> {c.what}: {c.details.join(', ')}
          </li>
        ))}
      </ul>
    </div>
  )
}
