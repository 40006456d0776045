/** Form fields. The quantity field tells a number from what can still become one. */
import { type ReactNode, useEffect, useId, useState } from 'react'
import { readArea } from '../model/areas'
import { type Said, said } from '../model/said'
import { inField, readLength, readNumber, sign } from '../model/units'
import { useSettings } from '../settings'
import { moveOn } from './moveOn'

interface Shell {
  label: ReactNode
  hint?: Said
  error?: Said
  children: (ids: { id: string; describedBy: string | undefined; invalid: boolean }) => ReactNode
}

/** A label that says to the ear what the eye sees from its place: "Insulation of core 2". */
export function heard(words: string, of: string) {
  return (
    <>
      {words}
      <span className="sr-only"> {of}</span>
    </>
  )
}

export function Field({ label, hint, error, children }: Shell) {
  const id = useId()
  const { unit } = useSettings()
  const words = said(error ?? hint ?? '', unit)
  return (
    <div className="flex flex-col gap-1">
      <label htmlFor={id} className="field-label">
        {label}
      </label>
      {children({ id, describedBy: words ? `${id}-words` : undefined, invalid: Boolean(error) })}
      {/* always there, so that an error that comes is read out */}
      <div aria-live="polite" className={words ? '' : '-mt-1'}>
        {words && (
          <p id={`${id}-words`} className={`text-sm ${error ? 'font-medium text-error' : 'quiet'}`}>
            {words}
          </p>
        )}
      </div>
    </div>
  )
}

interface TextProps {
  label: string
  value: string
  onChange: (value: string) => void
  hint?: Said
  error?: Said
  type?: string
  autoComplete?: string
  onBlur?: () => void
  disabled?: boolean
}

export function TextField({ label, value, onChange, hint, error, ...rest }: TextProps) {
  return (
    <Field label={label} hint={hint} error={error}>
      {({ id, describedBy, invalid }) => (
        <input
          id={id}
          className="input w-full"
          aria-describedby={describedBy}
          aria-invalid={invalid}
          value={value}
          onChange={(e) => onChange(e.target.value)}
          {...rest}
        />
      )}
    </Field>
  )
}

interface QuantityProps {
  label: ReactNode
  mm: number | null | undefined
  onChange: (mm: number | null) => void
  hint?: Said
  error?: Said
  disabled?: boolean
  autoFocus?: boolean
}

/** A length or diameter in the unit of the page; `mm` or `in` typed behind it wins. */
export function QuantityField({ label, mm, onChange, hint, error, disabled, autoFocus }: QuantityProps) {
  const { unit } = useSettings()
  const [text, setText] = useState(() => inField(mm, unit))
  const [held, setHeld] = useState<{ mm: typeof mm; unit: typeof unit }>({ mm, unit })
  const typed = readLength(text, unit)
  useEffect(() => {
    if ((mm ?? null) === (held.mm ?? null) && unit === held.unit) return
    setHeld({ mm, unit })
    setText(inField(mm, unit))
  }, [mm, unit, held])
  const change = (next: string) => {
    setText(next)
    const read = readLength(next, unit)
    const value = read.kind === 'number' ? read.mm : null
    if (read.kind === 'number' || read.kind === 'empty') {
      setHeld({ mm: value, unit })
      onChange(value)
    }
  }
  const own =
    typed.kind === 'no-number' ? `Write it like ${unit === 'mm' ? '5.3 or 5,3' : '0.21 or 7/32'}` : undefined
  return (
    <Field label={label} hint={hint} error={own ?? error}>
      {({ id, describedBy, invalid }) => (
        <span className="input w-full">
          <input
            id={id}
            inputMode="decimal"
            autoComplete="off"
            disabled={disabled}
            // biome-ignore lint/a11y/noAutofocus: the first field of Fit check is what the page is opened for
            autoFocus={autoFocus}
            aria-describedby={describedBy}
            aria-invalid={invalid}
            className="font-semibold"
            value={text}
            onChange={(e) => change(e.target.value)}
            onKeyDown={moveOn}
          />
          <span className="quiet text-sm">{sign(unit)}</span>
        </span>
      )}
    </Field>
  )
}

interface PlainNumberProps {
  label: string
  value: number | null | undefined
  onChange: (value: number | null) => void
  unit?: string
  hint?: Said
  error?: Said
  autoFocus?: boolean
}

/** A number with a unit of its own: volts, degrees, ohms, mm². Comma and point both work. */
export function NumberField({ label, value, onChange, unit, hint, error, autoFocus }: PlainNumberProps) {
  const [text, setText] = useState(value === null || value === undefined ? '' : String(value))
  const [held, setHeld] = useState(value ?? null)
  useEffect(() => {
    if ((value ?? null) === held) return
    setHeld(value ?? null)
    setText(value === null || value === undefined ? '' : String(value))
  }, [value, held])
  const area = unit === 'mm²'
  const readAs = area ? readArea : readNumber
  const bad = text.trim() !== '' && text.trim() !== '-' && readAs(text) === null
  const means = area && !bad && value && readNumber(text) === null ? `That is ${value} mm²` : hint
  const asked = area ? 'Write mm², or a size such as 12 AWG, 4/0, 250 kcmil' : 'Write a number'
  return (
    <Field label={label} hint={means} error={bad ? asked : error}>
      {({ id, describedBy, invalid }) => (
        <span className="input w-full">
          <input
            id={id}
            inputMode={area ? 'text' : 'decimal'}
            autoComplete="off"
            // biome-ignore lint/a11y/noAutofocus: a reading is typed at once when its step opens
            autoFocus={autoFocus}
            aria-describedby={describedBy}
            aria-invalid={invalid}
            className="font-semibold"
            value={text}
            onKeyDown={moveOn}
            onChange={(e) => {
              setText(e.target.value)
              const read = readAs(e.target.value)
              if (read !== null || e.target.value.trim() === '') {
                setHeld(read)
                onChange(read)
              }
            }}
          />
          {unit && <span className="quiet text-sm">{unit}</span>}
        </span>
      )}
    </Field>
  )
}

interface SelectProps {
  label: ReactNode
  value: string
  options: readonly (readonly [value: string, words: string])[]
  onChange: (value: string) => void
  hint?: Said
}

/** One of a few: what it is called, and the words of each choice. */
export function SelectField({ label, value, options, onChange, hint }: SelectProps) {
  return (
    <Field label={label} hint={hint}>
      {({ id, describedBy }) => (
        <select
          id={id}
          aria-describedby={describedBy}
          className="select w-full"
          value={value}
          onChange={(e) => onChange(e.target.value)}
        >
          {options.map(([v, words]) => (
            <option key={v} value={v}>
              {words}
            </option>
          ))}
        </select>
      )}
    </Field>
  )
}
