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

/** A length as it is printed: mm, inch, or both; both are kept, and compared by the core. */
export function FigureField({ label, value, onChange, error }: Props) {
  const id = useId()
  const [mm, setMm] = useState(shown(value?.mm))
  useEffect(() => {
    setMm((now) => (read(now) === (value?.mm ?? null) ? now : shown(value?.mm)))
  }, [value?.mm])
  const put = (next: Figure) => onChange(next.mm == null && !next.inch ? null : next)
  const bad = mm.trim() !== '' && read(mm) === null
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
              const v = read(e.target.value)
              if (v !== null || e.target.value.trim() === '') put({ ...value, mm: v })
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

function shown(v: number | null | undefined): string {
  return v === null || v === undefined ? '' : String(v)
}
