import { useEffect, useId, useState } from 'react'
import type { Schemas } from '../../api/client'
import { readNumber } from '../../model/units'

type Figure = Schemas['Figure']

interface Props {
  label: string
  value: Figure | null | undefined
  onChange: (value: Figure | null) => void
  error?: string
}

/** A length as it is printed: mm, inch, or both; both are kept, and compared by the core. In mm it may be a range
 *  or about: `20 to 25`, `about 20`. */
export function FigureField({ label, value, onChange, error }: Props) {
  const id = useId()
  const [mm, setMm] = useState(shown(value))
  const printed = shown(value)
  useEffect(() => {
    setMm((now) => (shown(asPrinted(now)) === printed ? now : printed))
  }, [printed])
  const put = (next: Figure) => onChange(next.mm == null && !next.inch ? null : next)
  const bad = mm.trim() !== '' && asPrinted(mm) === null
  const words = bad ? 'write a number' : error
  return (
    <span>
      <span className="flex gap-1">
        <span className="input w-24 px-2">
          <input
            aria-label={`${label}, mm`}
            inputMode="decimal"
            autoComplete="off"
            className="font-semibold"
            aria-invalid={Boolean(words)}
            aria-describedby={words ? id : undefined}
            value={mm}
            onChange={(e) => {
              setMm(e.target.value)
              const v = asPrinted(e.target.value)
              if (v || e.target.value.trim() === '') put({ inch: value?.inch, ...v })
            }}
          />
          <span className="quiet text-sm">mm</span>
        </span>
        <span className="input w-24 px-2">
          <input
            aria-label={`${label}, inch`}
            autoComplete="off"
            value={value?.inch ?? ''}
            aria-invalid={Boolean(words)}
            onChange={(e) => put({ ...value, inch: e.target.value || null })}
          />
          <span className="quiet text-sm">in</span>
        </span>
      </span>
      {words && (
        <span id={id} className="block text-sm font-medium text-error">
          {words}
        </span>
      )}
    </span>
  )
}

function read(text: string): number | null {
  const found = readNumber(text)
  return found !== null && found >= 0 ? found : null
}

/** What is typed in mm: a figure, a range, or either as about; null for anything else. */
export function asPrinted(text: string): Pick<Figure, 'mm' | 'to_mm' | 'about'> | null {
  const about = /^\s*(about|ca\.?|~)\s*/i
  const [low, high, ...more] = text.replace(about, '').split(/\s*(?:to|–|-)\s*/)
  const mm = read(low ?? '')
  const to = high === undefined ? undefined : read(high)
  if (mm === null || to === null || more.length) return null
  return { mm, ...(to !== undefined ? { to_mm: to } : {}), ...(about.test(text) ? { about: true } : {}) }
}

function shown(v: Figure | null | undefined): string {
  if (v?.mm == null) return ''
  return `${v.about ? 'about ' : ''}${v.mm}${v.to_mm != null ? ` to ${v.to_mm}` : ''}`
}
