/** A step and its state with nothing in them but what a test says. */
import type { components } from '../api/schema'

type Step = components['schemas']['StepOut']
type State = components['schemas']['StepState']

export const aStep = (more: Partial<Step> & Pick<Step, 'id'>): Step => ({
  title: '',
  kind: '',
  station: 'build',
  needs: [],
  text: '',
  caution: '',
  look: '',
  fails: '',
  hold: null,
  second_person: false,
  batch: '',
  layer: '',
  end: '',
  core: '',
  gates: [],
  part_id: '',
  focus_mm: null,
  stamp: '',
  timers: [],
  tools: [],
  hot: false,
  photo: false,
  basis: '',
  cure: null,
  heat_c: null,
  batch_title: '',
  batch_text: '',
  action: '',
  taken: '',
  pictured: '',
  recut: false,
  routes: [],
  pairs: [],
  ...more,
})

export const aState = (more: Partial<State> & Pick<State, 'id' | 'state'>): State => ({
  locked_by: [],
  actor: '',
  at: '',
  values: {},
  simulated: [],
  over: [],
  why: '',
  reason: '',
  tools: [],
  overdue: [],
  tool_reason: '',
  excuse: '',
  ...more,
})
