import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { ApiError, api, type Schemas, take } from '../../api/client'
import { Field, NumberField, TextField } from '../../components/fields'
import { ErrorNote } from '../../components/notes'

const NEW_LINE = 'new'

export function NewJoint({ lines }: { lines: Schemas['LineOut'][] }) {
  const dialog = useRef<HTMLDialogElement>(null)
  const [ref, setRef] = useState('')
  const [title, setTitle] = useState('')
  const [line, setLine] = useState('')
  const [lineName, setLineName] = useState('')
  const [lineLength, setLineLength] = useState<number | null>(null)
  const [at, setAt] = useState<number | null>(null)
  const [same, setSame] = useState('')
  const navigate = useNavigate()
  const client = useQueryClient()
  const make = useMutation({
    mutationFn: async () => {
      let id = line && line !== NEW_LINE ? Number(line) : null
      if (line === NEW_LINE) {
        const made = await take(
          api.POST('/api/v1/lines', { body: { name: lineName, length_m: lineLength ?? 0 } }),
        )
        id = made.id
        setLine(String(made.id))
      }
      return take(
        api.POST('/api/v1/joints', {
          body: { ref: ref.trim() || null, title, line_id: id, at_m: at, same_as: same.trim() || null },
        }),
      )
    },
    onSuccess: async (joint) => {
      await client.invalidateQueries({ queryKey: ['board'] })
      navigate(`/joints/${joint.ref}/card`)
    },
  })
  const fault = make.error instanceof ApiError ? make.error : null
  return (
    <>
      <button
        type="button"
        className="btn btn-primary btn-tall mt-6"
        onClick={() => dialog.current?.showModal()}
      >
        New joint
      </button>
      <dialog ref={dialog} className="modal" aria-label="New joint">
        <form
          className="modal-box flex flex-col gap-4"
          onSubmit={(e: FormEvent) => {
            e.preventDefault()
            make.mutate()
          }}
        >
          <h2>New joint</h2>
          <TextField
            label="What it is"
            value={title}
            onChange={setTitle}
            hint="Such as: feeder, pit 4"
            error={fault?.at('/title')}
          />
          <TextField
            label="Reference"
            value={ref}
            onChange={setRef}
            hint="Left empty, the next number is taken"
            error={fault?.at('/ref')}
          />
          <Field label="Cable line">
            {({ id }) => (
              <select
                id={id}
                className="select w-full"
                value={line}
                onChange={(e) => setLine(e.target.value)}
              >
                <option value="">none</option>
                {lines.map((l) => (
                  <option key={l.id} value={l.id}>
                    {l.name}
                  </option>
                ))}
                <option value={NEW_LINE}>a new line …</option>
              </select>
            )}
          </Field>
          {line === NEW_LINE && (
            <div className="grid grid-cols-2 gap-3">
              <TextField
                label="Name of the line"
                value={lineName}
                onChange={setLineName}
                error={fault?.at('/name')}
              />
              <NumberField
                label="Its length"
                unit="m"
                value={lineLength}
                onChange={setLineLength}
                error={fault?.at('/length_m')}
              />
            </div>
          )}
          {line && (
            <NumberField
              label="Distance along the line"
              unit="m"
              value={at}
              onChange={setAt}
              error={fault?.at('/at_m')}
            />
          )}
          <TextField
            label="Same again as"
            value={same}
            onChange={setSame}
            hint="Reference of a joint whose card and readings are copied"
          />
          {make.error && (
            <ErrorNote error={make.error} skip={['/title', '/ref', '/name', '/length_m', '/at_m']} />
          )}
          <div className="modal-action">
            <button type="button" className="btn" onClick={() => dialog.current?.close()}>
              Not now
            </button>
            <button type="submit" className="btn btn-primary" disabled={make.isPending || (!title && !same)}>
              Make it
            </button>
          </div>
        </form>
      </dialog>
    </>
  )
}
