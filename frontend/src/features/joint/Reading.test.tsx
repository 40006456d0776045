// @vitest-environment happy-dom
import { act, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { beforeEach, describe, expect, it } from 'vitest'
import { type Answer, newBrowser, Site, settled, show } from '../../testing/site'
import { Reading } from './Reading'

type Hook = Parameters<typeof Reading>[0]['joint']
const JOINT = {
  query: { data: { draft: {}, questions: [], missing: [] } },
  patch: {},
  error: null,
  edit: () => {},
} as unknown as Hook

/** Two readings of one draft, as a form keeps them. */
function Two() {
  const [kept, setKept] = useState<Record<string, number | null>>({ one: null, two: null })
  const reading = (of: string) => (
    <Reading
      label="Over insulation"
      of={of}
      path={of}
      first={kept[of]}
      across={undefined}
      about={undefined}
      joint={JOINT}
      set={(first) => setKept({ ...kept, [of]: first })}
    />
  )
  return (
    <>
      {reading('one')}
      {reading('two')}
      <output>{`${kept.one} ${kept.two}`}</output>
    </>
  )
}

beforeEach(newBrowser)

describe('a reading from an instrument', () => {
  it('keeps what was typed beside it while the instrument was asked', async () => {
    let tell = (_: Answer) => {}
    new Site({
      'GET /instruments': { body: { items: [{ kind: 'calliper', name: 'bench calliper' }] } },
      'POST /instruments/calliper': () => new Promise((done) => (tell = done)),
    })
    await show(<Two />)
    await userEvent.click(screen.getByRole('button', { name: /Over insulation one$/ }))
    await userEvent.type(screen.getAllByRole('textbox')[2] as HTMLElement, '4')
    await act(async () => tell({ body: { first_mm: 3.2, across_mm: 3.1, simulated: true } }))
    await settled()
    expect(screen.getByRole('status').textContent).toBe('3.2 4')
  })
})
