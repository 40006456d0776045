import { Delete, Gauge } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { inField, readLength, sign, type Unit } from '../../../model/units'
import { useSettings } from '../../../settings'
import { KEY, Keys } from './Keys'

interface Props {
  label: string
  hint: string
  /** 'length' takes mm or inch; anything else is the unit's own sign. */
  unit: string
  value: number | null
  done: (value: number | null) => void
  close: () => void
  /** Reads the instrument of this place by one touch, where there is one. */
  instrument?: { name: string; read: () => Promise<number>; fault: string }
}

const KEYS = ['7', '8', '9', '4', '5', '6', '1', '2', '3', ',', '0']

/** Large keys for gloves; a keyboard types into the same field. Lengths in mm or inch. */
export function NumberPad({ label, hint, unit, value, done, close, instrument }: Props) {
  const settings = useSettings()
  const isLength = unit === 'mm'
  const [own, setOwn] = useState<Unit>(settings.unit)
  const [text, setText] = useState(() =>
    value === null ? '' : isLength ? inField(value, own) : String(value),
  )
  const [touched, setTouched] = useState(false)
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => dialog.current?.showModal(), [])
  const read = isLength ? readLength(text, own) : plain(text)
  const number = read.kind === 'number' ? read.mm : null
  const take = () => {
    if (read.kind !== 'number' && read.kind !== 'empty') return
    done(number)
    dialog.current?.close()
  }
  /** The first key writes over what stood there. */
  const press = (k: string) => {
    setText((t) => (touched ? t + k : k))
    setTouched(true)
  }
  return (
    <dialog ref={dialog} className="modal" aria-label={label} onClose={close}>
      <form
        className="modal-box"
        onSubmit={(e) => {
          e.preventDefault()
          take()
        }}
      >
        <h2>{label}</h2>
        <p className="quiet">{hint}</p>
        <p className="input my-3 flex h-16 w-full items-center text-4xl">
          <input
            aria-label={label}
            className="grow !text-4xl font-bold"
            inputMode="none"
            autoComplete="off"
            autoFocus
            value={text}
            onFocus={(e) => e.target.select()}
            onChange={(e) => {
              setTouched(true)
              setText(e.target.value)
            }}
          />
          <span className="quiet text-xl">{isLength ? sign(own) : unit}</span>
        </p>
        {read.kind === 'no-number' && <p className="font-medium text-error">This is no number</p>}
        {instrument && (
          <button
            type="button"
            className="btn btn-tall mb-2 w-full"
            onClick={async () => {
              const got = await instrument.read()
              if (Number.isNaN(got)) return
              setText(isLength ? inField(got, own) : String(got))
            }}
          >
            <Gauge aria-hidden /> From {instrument.name}
          </button>
        )}
        {instrument?.fault && (
          <p className="mb-2 font-medium text-error" role="alert">
            {instrument.fault}
          </p>
        )}
        <Keys keys={KEYS} press={press}>
          <button
            type="button"
            className={KEY}
            aria-label="Delete the last figure"
            onClick={() => {
              setTouched(true)
              setText((t) => t.slice(0, -1))
            }}
          >
            <Delete aria-hidden />
          </button>
          {unit === '°C' && (
            <button
              type="button"
              className={KEY}
              aria-label="Below or above zero"
              onClick={() => {
                setTouched(true)
                setText((t) => (t.startsWith('-') ? t.slice(1) : `-${t}`))
              }}
            >
              ±
            </button>
          )}
          {isLength && (
            <>
              <button type="button" className={KEY} onClick={() => press(' ')}>
                space
              </button>
              <button type="button" className={KEY} onClick={() => press('/')}>
                /
              </button>
              <button
                type="button"
                className={KEY}
                onClick={() => setOwn(own === 'mm' ? 'inch' : 'mm')}
                aria-label={`Change to ${own === 'mm' ? 'inch' : 'mm'}`}
              >
                {own === 'mm' ? 'in' : 'mm'}
              </button>
            </>
          )}
        </Keys>
        <div className="mt-3 grid grid-cols-2 gap-2">
          <button type="button" className="btn btn-tall" onClick={() => dialog.current?.close()}>
            Leave it
          </button>
          <button
            type="submit"
            className="btn btn-primary btn-tall"
            disabled={read.kind !== 'number' && read.kind !== 'empty'}
          >
            Take it
          </button>
        </div>
      </form>
    </dialog>
  )
}

function plain(text: string): ReturnType<typeof readLength> {
  const trimmed = text.trim().replace(',', '.')
  if (trimmed === '') return { kind: 'empty' }
  if (/^-?(\d+(\.\d*)?|\.\d+)$/.test(trimmed)) return { kind: 'number', mm: Number(trimmed) }
  return /^-?\.?$/.test(trimmed) ? { kind: 'unfinished' } : { kind: 'no-number' }
}
