// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Draft } from '../../../api/client'
import type { Kind } from '../../../components/useKinds'
import { newBrowser, Site, show } from '../../../testing/site'
import { kindOf, placed } from '../forms'
import type { Change } from '../useJoint'
import { AsksMeasure } from './AsksMeasure'

const ask = (id: string, kind: string, more: object = {}) => ({
  id,
  label: id,
  kind,
  unit: '',
  hint: '',
  group: 'Damage',
  options: [],
  required: true,
  when: null,
  least: null,
  most: null,
  ...more,
})
const KIND = {
  name: 'jacket',
  title: 'jacket repair',
  form: 'asks',
  needs_sheet: false,
  cautions: [],
  asks: [
    ask('grade', 'choice', {
      options: [
        { value: 'scratch', words: 'scratched' },
        { value: 'cut', words: 'cut open' },
      ],
    }),
    ask('depth_mm', 'length', { unit: 'mm', when: { ask: 'grade', answers: ['cut'] } }),
    ask('turns', 'number', { unit: 'turns', group: 'Cable' }),
    ask('wet', 'yes', { required: false }),
    ask('maker', 'text', { required: false, hint: 'As printed.' }),
  ],
} as unknown as Kind

async function form(asked: object, told: { missing?: object[]; questions?: object[] } = {}) {
  new Site()
  const edit = vi.fn()
  const now = { asked } as Draft
  const edited = (change: Change) => edit(typeof change === 'function' ? change(now) : change)
  const joint = {
    query: { data: { ref: 'J-1', missing: [], questions: [], ...told } },
    edit: edited,
    error: null,
  } as unknown as Parameters<typeof AsksMeasure>[0]['joint']
  await show(<AsksMeasure joint={joint} draft={{ asked } as Draft} kind={KIND} />)
  return edit
}

beforeEach(newBrowser)

describe('a form made from questions', () => {
  it('asks in groups, and only what the answers before call for', async () => {
    await form({ grade: 'scratch' })
    expect(screen.getByRole('region', { name: 'Damage' })).toBeTruthy()
    expect(screen.getByRole('region', { name: 'Cable' })).toBeTruthy()
    expect(screen.queryByLabelText('depth_mm')).toBeNull()
  })

  it('takes each kind of answer, and keeps the others', async () => {
    const edit = await form({ grade: 'cut', turns: 3 })
    await userEvent.selectOptions(screen.getByLabelText('grade'), 'scratch')
    expect(edit).toHaveBeenLastCalledWith({ asked: { grade: 'scratch', turns: 3 } })
    await userEvent.type(screen.getByLabelText('depth_mm'), '2')
    expect(edit).toHaveBeenLastCalledWith({ asked: { grade: 'cut', turns: 3, depth_mm: 2 } })
    await userEvent.click(screen.getByLabelText(/^wet/))
    expect(edit).toHaveBeenLastCalledWith({ asked: { grade: 'cut', turns: 3, wet: true } })
    await userEvent.type(screen.getByLabelText('maker'), 'N')
    expect(edit).toHaveBeenLastCalledWith({ asked: { grade: 'cut', turns: 3, maker: 'N' } })
    await userEvent.clear(screen.getByLabelText(/turns/))
    expect(edit).toHaveBeenLastCalledWith({ asked: { grade: 'cut' } })
  })

  it('says beside the field what is missing and what is doubted', async () => {
    await form(
      { grade: 'cut', turns: 900 },
      {
        missing: [{ path: '/asked/depth_mm', message: 'the depth is not entered yet' }],
        questions: [{ path: '/asked/turns', message: 'turns reads 900, unlikely much. Read it again.' }],
      },
    )
    expect(screen.getByText('the depth is not entered yet')).toBeTruthy()
    expect(screen.getByText(/unlikely much/)).toBeTruthy()
    expect(screen.getByText('As printed.')).toBeTruthy()
  })
})

describe('what a kind of joint is', () => {
  it('is the first one until the draft says which', () => {
    const other = { ...KIND, name: 'tap' }
    expect(kindOf([other, KIND], {} as Draft)?.name).toBe('tap')
    expect(kindOf([other, KIND], { family: 'jacket' } as Draft)?.name).toBe('jacket')
    expect(kindOf([], {} as Draft)).toBeUndefined()
  })

  it('says where a part settled on is kept, and nothing else there is lost', () => {
    const draft = { asked: { grade: 'cut' }, choice: { shell: 'S' } } as unknown as Draft
    expect(placed(draft, '/asked/sleeve', 'W-60')).toEqual({ asked: { grade: 'cut', sleeve: 'W-60' } })
    expect(placed(draft, '/choice/outer_sleeve', 'L')).toEqual({ choice: { shell: 'S', outer_sleeve: 'L' } })
    expect(placed({} as Draft, '/choice/outer_sleeve', 'L')).toEqual({ choice: { outer_sleeve: 'L' } })
  })
})
