import { Delete, Gauge } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { figure, inField, readLength, sign, type Unit } from '../../../model/units'
import { useSettings } from '../../../settings'
import { KEY, Keys } from './Keys'
import type { Taken } from './readings'

interface Props {
  label: string
  hint: string
  /** 'length' takes mm or inch; anything else is the unit's own sign. */
  unit: string
  /** The least and the greatest that can be read at all. */
  possible?: number[] | null
  taken: Taken | null
  /** The figure that opened it: something types, and went on typing. */
  first?: string
  done: (taken: Taken | null) => void
  close: () => void
  /** Reads the instrument of this place by one touch, where there is one. */
  instrument?: { name: string; read: () => Promise<Taken | null>; fault: string }
}

const KEYS = ['7', '8', '9', '4', '5', '6', '1', '2', '3', ',', '0']

/** What displays show instead of the unit itself, and how much of it one is. */
const SCALES: Record<string, [string, number][]> = {
  MΩ: [
    ['kΩ', 0.001],
    ['MΩ', 1],
    ['GΩ', 1000],
  ],
  Ω: [
    ['mΩ', 0.001],
    ['Ω', 1],
  ],
  µΩ: [
    ['µΩ', 1],
    ['mΩ', 1000],
  ],
}

/** Large keys for gloves; a keyboard types into the same field. Lengths in mm or inch, resistances as the display has
 *  them, also when it shows only that there is more. */
export function NumberPad({
  label,
  hint,
  unit,
  possible,
  taken,
  first = '',
  done,
  close,
  instrument,
}: Props) {
  const settings = useSettings()
  const isLength = unit === 'mm'
  const [own, setOwn] = useState<Unit>(settings.unit)
  const value = taken?.value ?? null
  const scales = SCALES[unit]
  const [scale, setScale] = useState(() => scales?.find(([s]) => s === unit) ?? ([unit, 1] as const))
  const [over, setOver] = useState(taken?.over ?? false)
  const [by, setBy] = useState(first ? undefined : taken?.by)
  const [text, setText] = useState(
    () => first || (value === null ? '' : isLength ? inField(value, own) : figure(value, 8)),
  )
  const [touched, setTouched] = useState(first !== '')
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => dialog.current?.showModal(), [])
  const read = isLength ? readLength(text, own) : plain(text)
  const number = read.kind === 'number' ? read.mm * (isLength ? 1 : scale[1]) : null
  const [low, high] = [possible?.[0] ?? -Infinity, possible?.[1] ?? Infinity]
  const never = number !== null && (number < low || number > high)
  const take = () => {
    if ((read.kind !== 'number' && read.kind !== 'empty') || never) return
    done(number === null ? null : { value: number, ...(by ? { by } : {}), ...(over ? { over } : {}) })
    dialog.current?.close()
  }
  /** Somebody types: the figure is theirs, no longer an instrument's. */
  const typed = (next: (text: string) => string) => {
    setTouched(true)
    setBy(undefined)
    setText(next)
  }
  /** The first key writes over what stood there. */
  const press = (k: string) => typed((t) => (touched ? t + k : k))
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
            onFocus={(e) => !first && e.target.select()}
            onChange={(e) => typed(() => e.target.value)}
          />
          <span className="quiet text-xl">{isLength ? sign(own) : scale[0]}</span>
        </p>
        {scales && (
          <div className="mb-2 grid auto-cols-fr grid-flow-col gap-2">
            {scales.map((s) => (
              <button
                key={s[0]}
                type="button"
                aria-pressed={scale[0] === s[0]}
                className={`btn min-h-12 text-lg ${scale[0] === s[0] ? 'btn-primary' : ''}`}
                onClick={() => setScale(s)}
              >
                {s[0]}
              </button>
            ))}
            {unit === 'MΩ' && (
              <button
                type="button"
                aria-pressed={over}
                className={`btn min-h-12 text-lg ${over ? 'btn-primary' : ''}`}
                onClick={() => setOver(!over)}
              >
                over
              </button>
            )}
          </div>
        )}
        {over && (
          <p className="quiet">The display shows only that there is more: type the end of its range.</p>
        )}
        {never && (
          <p className="font-medium text-error" role="alert">
            This cannot be: it lies between {figure(low)} and {figure(high)} {unit}. Is it another figure, or
            another unit?
          </p>
        )}
        {read.kind === 'no-number' && <p className="font-medium text-error">This is no number</p>}
        {instrument && (
          <button
            type="button"
            className="btn btn-tall mb-2 h-auto w-full py-2 leading-tight"
            onClick={async () => {
              const got = await instrument.read()
              if (!got) return
              setScale(scales?.find(([s]) => s === unit) ?? [unit, 1])
              setOver(false)
              setBy(got.by)
              setText(isLength ? inField(got.value, own) : figure(got.value, 8))
            }}
          >
            <Gauge aria-hidden /> From the {instrument.name}
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
            onClick={() => typed((t) => t.slice(0, -1))}
          >
            <Delete aria-hidden />
          </button>
          {unit === '°C' && (
            <button
              type="button"
              className={KEY}
              aria-label="Below or above zero"
              onClick={() => typed((t) => (t.startsWith('-') ? t.slice(1) : `-${t}`))}
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
            disabled={(read.kind !== 'number' && read.kind !== 'empty') || never}
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
