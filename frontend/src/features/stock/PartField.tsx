import { useQuery } from '@tanstack/react-query'
import { api, take } from '../../api/client'
import { NumberField, QuantityField, SelectField, TextField } from '../../components/fields'
import { pairsText } from '../../model/pairs'
import type { Said } from '../../model/said'
import type { Figure, Value } from './kinds'

interface Props {
  figure: Figure
  value: Value | undefined
  set: (value: Value) => void
  error?: Said
}

/** The field of a figure, by its form. */
export function PartField(props: Props) {
  const { figure, value, set, error } = props
  const { label } = figure
  const hint = figure.hint || undefined
  const amount = typeof value === 'number' ? value : null
  switch (figure.form) {
    case 'length':
      return <QuantityField label={label} hint={hint} mm={amount} onChange={set} error={error} />
    case 'number':
      return (
        <NumberField
          label={label}
          unit={figure.unit}
          hint={hint}
          value={amount}
          onChange={set}
          error={error}
        />
      )
    case 'choice':
      return (
        <SelectField
          label={label}
          value={String(value ?? figure.options[0])}
          options={figure.options.map((o) => [o, o] as const)}
          hint={error ?? hint}
          onChange={set}
        />
      )
    case 'flag':
      return <Flag {...props} />
    case 'words':
      return (
        <TextField
          label={label}
          hint={hint}
          value={Array.isArray(value) ? value.join(', ') : ''}
          onChange={(text) => set(text.split(',').map((w) => w.trimStart()))}
          error={error}
        />
      )
    case 'pairs':
      return (
        <TextField
          label={label}
          hint={hint}
          value={typeof value === 'string' ? value : figure.names ? pairsText(value, figure.names) : ''}
          onChange={set}
          error={error}
        />
      )
    case 'sheet':
      return <SheetField {...props} />
    default:
      return <TextField label={label} hint={hint} value={String(value ?? '')} onChange={set} error={error} />
  }
}

function Flag({ figure, value, set }: Props) {
  return (
    <label className="flex min-h-11 items-center gap-2 self-end">
      <input
        type="checkbox"
        className="checkbox checkbox-primary"
        checked={Boolean(value)}
        onChange={(e) => set(e.target.checked)}
      />
      <span>
        {figure.label}
        {figure.hint && <span className="quiet">, {figure.hint}</span>}
      </span>
    </label>
  )
}

/** The leaflet that lies in the box. */
function SheetField({ figure, value, set, error }: Props) {
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => take(api.GET('/api/v1/sheets')) })
  return (
    <SelectField
      label={figure.label}
      value={String(value ?? '')}
      hint={error}
      options={[['', 'choose …'], ...(sheets.data?.items ?? []).map((s) => [s.id, s.name] as const)]}
      onChange={set}
    />
  )
}
