import { Link } from 'react-router'
import type { Draft, Schemas } from '../../../api/client'
import { NumberField, QuantityField, SelectField, TextField } from '../../../components/fields'
import { said } from '../../../model/said'
import { useSettings } from '../../../settings'
import type { FormProps } from '../forms'
import { MakeUpField } from './MakeUpField'

type Ask = Schemas['Ask']
type Answer = number | string | boolean
type Answers = Record<string, Answer>

const BLANK = ['', 'choose …'] as const

/** The readings of a family that asks by questions: groups of fields, made from what the core asks. */
export function AsksMeasure({ joint, draft, kind }: FormProps) {
  const found = joint.query.data
  if (!found) return null
  const answers: Answers = (draft as Draft).asked ?? {}
  const asked = kind.asks.filter((a) => !a.when || a.when.answers.includes(String(answers[a.when.ask] ?? '')))
  const groups = [...new Set(asked.map((a) => a.group))]
  const set = (id: string, value: Answer | null) => {
    joint.edit((now) => {
      const { [id]: _gone, ...rest } = now.asked ?? {}
      return { asked: value === null || value === '' ? rest : { ...rest, [id]: value } }
    })
  }
  return (
    <div className="grid gap-8 lg:grid-cols-2">
      {groups.map((group, n) => (
        <section key={group} aria-label={group} className="flex flex-col gap-4">
          <div className="flex flex-wrap items-end gap-3">
            {n === 0 ? <h1 className="grow">{group}</h1> : <h2 className="grow text-2xl">{group}</h2>}
            {n === groups.length - 1 && (
              <Link className="btn btn-primary" to={`/joints/${found.ref}/choose`}>
                On to Choose
              </Link>
            )}
          </div>
          {asked
            .filter((a) => a.group === group)
            .map((a) => (
              <AskField key={a.id} ask={a} {...{ answers, joint }} set={(v) => set(a.id, v)} />
            ))}
        </section>
      ))}
    </div>
  )
}

interface FieldProps {
  ask: Ask
  answers: Answers
  set: (value: Answer | null) => void
  joint: FormProps['joint']
}

/** One question with its hint, what is missing or wrong of it, and the doubt about what was typed. */
function AskField({ ask, answers, set, joint }: FieldProps) {
  const answer = answers[ask.id]
  const { unit } = useSettings()
  const path = `/asked/${ask.id}`
  const found = joint.query.data
  const missing = found?.missing.find((m) => m.path === path)
  const doubt = found?.questions.find((q) => q.path === path)
  const shared = {
    label: ask.label,
    hint: missing ?? doubt ?? (ask.hint || undefined),
    error: joint.error?.at(path),
  }
  const number = typeof answer === 'number' ? answer : null
  switch (ask.kind) {
    case 'length':
      return <QuantityField {...shared} mm={number} onChange={set} />
    case 'number':
      return <NumberField {...shared} unit={ask.unit} value={number} onChange={set} />
    case 'choice':
      return (
        <SelectField
          label={shared.label}
          hint={shared.hint}
          value={String(answer ?? '')}
          options={[
            ...(ask.required && answer === undefined ? [BLANK] : []),
            ...ask.options.map((o) => [o.value, o.words] as const),
          ]}
          onChange={set}
        />
      )
    case 'yes':
      return (
        <label className="flex min-h-12 cursor-pointer items-center gap-3 text-lg">
          <input
            type="checkbox"
            className="checkbox checkbox-primary"
            checked={answer === true}
            onChange={(e) => set(e.target.checked)}
          />
          <span>
            {ask.label}
            {shared.hint && <span className="quiet block text-sm">{said(shared.hint, unit)}</span>}
          </span>
        </label>
      )
    case 'make-up': {
      const side = ask.id.endsWith('_b') ? 'insulation_od_b_mm' : 'insulation_od_mm'
      const insulation = answers[side] ?? answers.insulation_od_mm
      const mm = (of: Answer | undefined) => (typeof of === 'number' ? of : null)
      return (
        <MakeUpField
          {...shared}
          line={String(answer ?? '')}
          insulation={mm(insulation)}
          thinnest={mm(answers.insulation_least_mm)}
          onChange={set}
        />
      )
    }
    default:
      return <TextField {...shared} value={String(answer ?? '')} onChange={set} />
  }
}
