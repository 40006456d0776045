// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Draft, Schemas } from '../../../api/client'
import { newBrowser, Site, show } from '../../../testing/site'
import type { ChooseProps } from '../forms'
import { Side } from './Side'

const CHANGE = { asked: { second: true } }
const LOOK = {
  plan: {
    verdict: 'planned',
    gap_mm: null,
    minutes: { hands: 60, waiting: 0 },
    joint_length_mm: 200,
    greatest_diameter_mm: 15,
    cost: null,
    insert: null,
    warnings: [],
    remedies: [],
  },
  differences: [],
  staggers: [],
  ways: [
    {
      id: 'w1',
      title: 'Two layers',
      why: 'It covers more.',
      change: CHANGE,
      minutes: null,
      joint_length_mm: null,
      greatest_diameter_mm: null,
      parts: [],
      cut_mm: [],
      park: null,
    },
  ],
} as unknown as Schemas['Look']

async function side(patch: object, placeholder = false, saving = 'saved') {
  new Site()
  const edit = vi.fn()
  const joint = { query: { data: { ref: 'J-1' } }, edit, patch, saving } as unknown as ChooseProps['joint']
  const look = { data: LOOK, isPlaceholderData: placeholder } as ChooseProps['look']
  await show(<Side joint={joint} draft={{} as Draft} look={look} planned={undefined} ends={false} />)
  return edit
}

const taken = () => screen.getByRole('button', { name: 'Use this way' }) as HTMLButtonElement

beforeEach(newBrowser)

describe('other ways', () => {
  it('are one touch away, and so is the plan', async () => {
    const edit = await side({})
    await userEvent.click(taken())
    expect(edit).toHaveBeenCalledWith(CHANGE)
    expect((screen.getByRole('button', { name: 'Plan it like this' }) as HTMLButtonElement).disabled).toBe(
      false,
    )
  })

  it.each([
    ['typed and not saved', { title: 'x' }, false, 'saving', 'Working it out …'],
    ['saved and not worked out yet', {}, true, 'saved', 'Working it out …'],
    ['kept here without a connection', { title: 'x' }, false, 'offline', 'What you typed is not saved yet'],
  ])('cannot be taken while something is %s: they would bring the older draft back', async (...row) => {
    const [, patch, placeholder, saving, words] = row
    const edit = await side(patch, placeholder, saving)
    await userEvent.click(taken())
    expect(edit).not.toHaveBeenCalled()
    expect((screen.getByRole('button', { name: words }) as HTMLButtonElement).disabled).toBe(true)
  })
})
