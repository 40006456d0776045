import { useMutation } from '@tanstack/react-query'
import { FileUp } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { api, type Schemas, take } from '../../../api/client'
import { Field } from '../../../components/fields'
import { ErrorNote } from '../../../components/notes'
import { figure } from '../../../model/units'
import type { Step } from '../useWork'
import type { Taken } from './readings'

type Row = Schemas['FileReadingOut']

interface Props {
  joint: string
  step: Step
  set: (gate: string) => (taken: Taken | null) => void
}

/** A tester's file of readings: what stands in it is shown with where it goes, and only then taken. */
export function TesterFile({ joint, step, set }: Props) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <button type="button" className="btn btn-tall" onClick={() => setOpen(true)}>
        <FileUp aria-hidden /> Readings from a tester’s file
      </button>
      {open && <TheFile joint={joint} step={step} set={set} close={() => setOpen(false)} />}
    </>
  )
}

function TheFile({ joint, step, set, close }: Props & { close: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => dialog.current?.showModal(), [])
  /** What a person chose instead of what was found, by line; empty leaves the line out. */
  const [chosen, setChosen] = useState<Record<number, string>>({})
  const read = useMutation({
    mutationFn: (text: string) =>
      take(
        api.POST('/api/v1/joints/{ref}/tester-file', {
          params: { path: { ref: joint } },
          body: { step: step.id, text },
        }),
      ),
    onSuccess: () => setChosen({}),
  })
  const rows = read.data?.items ?? []
  const goes = (r: Row) => chosen[r.line] ?? r.gate
  const taken = rows.filter((r) => goes(r))
  const twice = taken.find((r) => taken.some((o) => o !== r && goes(o) === goes(r)))
  const all = () => {
    for (const r of taken) {
      const value = r.values[goes(r)]
      if (value !== undefined) set(goes(r))({ value, ...(r.over ? { over: true } : {}) })
    }
    dialog.current?.close()
  }
  return (
    <dialog ref={dialog} className="modal" aria-label="Readings from a tester’s file" onClose={close}>
      <div className="modal-box">
        <h2>Readings from a tester’s file</h2>
        <p className="quiet">
          CSV with a name and a figure a line. Nothing is taken before you have seen where it goes.
        </p>
        <input
          type="file"
          aria-label="File of the tester"
          accept=".csv,.txt,text/csv,text/plain"
          className="file-input mt-3 w-full"
          onChange={async (e) => {
            const file = e.target.files?.[0]
            if (file) read.mutate(await file.text())
          }}
        />
        {read.error && <ErrorNote error={read.error} />}
        {rows.some((r) => r.guessed) && (
          <p className="note mt-3">
            The file gives no names that are known here: the figures are laid out in the order of the step.
            Look at each.
          </p>
        )}
        <ul className="rows mt-3">
          {rows.map((r) => (
            <li key={r.line} className="grid grid-cols-[1fr_auto] items-end gap-2 py-2">
              <span className="min-w-0">
                <span className="block break-words">{r.label || `line ${r.line}`}</span>
                <b className="text-lg">{r.shown}</b>
              </span>
              {Object.keys(r.values).length ? (
                <Field label="goes to">
                  {({ id }) => (
                    <select
                      id={id}
                      className="select"
                      value={goes(r)}
                      onChange={(e) => setChosen((now) => ({ ...now, [r.line]: e.target.value }))}
                    >
                      <option value="">nothing</option>
                      {step.gates
                        .filter((g) => g.id in r.values)
                        .map((g) => (
                          <option key={g.id} value={g.id}>
                            {g.label}, {figure(r.values[g.id] ?? 0)} {g.unit}
                          </option>
                        ))}
                    </select>
                  )}
                </Field>
              ) : null}
              {r.why && <span className="quiet col-span-2">This line {r.why}.</span>}
            </li>
          ))}
        </ul>
        {twice && (
          <p className="mt-2 font-medium text-error" role="alert">
            Two lines go to {step.gates.find((g) => g.id === goes(twice))?.label}. Let one of them go to
            nothing.
          </p>
        )}
        <div className="modal-action">
          <button type="button" className="btn" onClick={() => dialog.current?.close()}>
            Leave it
          </button>
          <button
            type="button"
            className="btn btn-primary"
            disabled={!taken.length || Boolean(twice)}
            onClick={all}
          >
            Take {taken.length} {taken.length === 1 ? 'reading' : 'readings'}
          </button>
        </div>
      </div>
    </dialog>
  )
}
