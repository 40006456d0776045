/** The forms there are. A family whose readings are asked by questions needs none of its own. */
import { AsksMeasure } from './asks/AsksMeasure'
import { RoundChoose } from './choose/RoundChoose'
import type { Form } from './forms'
import { Measure } from './Measure'
import { TraceChoose } from './trace/TraceChoose'
import { TraceMeasure } from './trace/TraceMeasure'

export const FORMS: Record<string, Form> = {
  ends: { Measure, Choose: RoundChoose, ends: true },
  flat: { Measure: TraceMeasure, Choose: TraceChoose, ends: false },
  asks: { Measure: AsksMeasure, Choose: RoundChoose, ends: false },
}
