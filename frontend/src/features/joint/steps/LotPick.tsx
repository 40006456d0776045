import { useQuery } from '@tanstack/react-query'
import { QrCode } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { api, take } from '../../../api/client'
import { Later } from '../../../components/Later'
import { ErrorNote } from '../../../components/notes'
import { day } from '../../../model/when'

const Scan = () => import('../../../components/Scan').then((m) => m.Scan)

/** Part and lot of a label's code, or nothing when it is another code. */
export function lotOf(code: string): { part: string; lot: string } | null {
  const found = /^tinknot:lot:([^:]+):(.+)$/.exec(code)
  return found ? { part: found[1] ?? '', lot: found[2] ?? '' } : null
}

interface Props {
  part: string
  lot: string
  take: (lot: string) => void
}

/** The lot that is taken: the plan's, another from the shelf, or the one whose label is scanned. */
export function LotPick({ part, lot, take: pick }: Props) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <button
        type="button"
        className="btn min-h-14 px-2"
        onClick={() => setOpen(true)}
        aria-label={`Lot ${lot}: change`}
      >
        lot {lot || '–'}
      </button>
      {open && <Lots part={part} lot={lot} pick={pick} close={() => setOpen(false)} />}
    </>
  )
}

function Lots({
  part,
  lot,
  pick,
  close,
}: {
  part: string
  lot: string
  pick: (lot: string) => void
  close: () => void
}) {
  const dialog = useRef<HTMLDialogElement>(null)
  const [scan, setScan] = useState(false)
  const [words, setWords] = useState('')
  useEffect(() => dialog.current?.showModal(), [])
  const stock = useQuery({
    queryKey: ['stock', part],
    queryFn: () => take(api.GET('/api/v1/stock/{part_id}', { params: { path: { part_id: part } } })),
    retry: 0,
  })
  const done = (name: string) => {
    pick(name)
    dialog.current?.close()
  }
  const read = (code: string) => {
    const found = lotOf(code)
    if (!found) setWords('This code is no lot label.')
    else if (found.part !== part) setWords(`This is ${found.part}, the plan asks for ${part}.`)
    else done(found.lot)
  }
  return (
    <dialog ref={dialog} className="modal" aria-label={`Lot of ${part}`} onClose={close}>
      <div className="modal-box">
        <h2>Lot of {part}</h2>
        {stock.error && <ErrorNote error={stock.error} again={() => stock.refetch()} />}
        <div className="my-3 grid gap-2">
          {stock.data?.lots.map((l) => (
            <button
              key={l.id}
              type="button"
              aria-pressed={l.name === lot}
              className={`btn btn-tall justify-between ${l.name === lot ? 'btn-primary' : ''}`}
              onClick={() => done(l.name)}
            >
              {l.name}
              <span className="text-base font-normal">
                {l.use_by ? `good until ${day(l.use_by)}` : 'no date'}
                {l.opened ? ', opened' : ''}
              </span>
            </button>
          ))}
        </div>
        {words && (
          <p className="font-medium text-error" role="alert">
            {words}
          </p>
        )}
        <div className="modal-action">
          <button type="button" className="btn btn-tall" onClick={() => setScan(true)}>
            <QrCode aria-hidden /> Scan its label
          </button>
          <button type="button" className="btn btn-tall" onClick={() => dialog.current?.close()}>
            Close
          </button>
        </div>
        {scan && (
          <Later
            of={Scan}
            what="the scanner"
            with={{ title: "Scan the lot's label", found: read, close: () => setScan(false) }}
          />
        )}
      </div>
    </dialog>
  )
}
