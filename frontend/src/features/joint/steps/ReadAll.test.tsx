// @vitest-environment happy-dom
import { act, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { beforeEach, describe, expect, it } from 'vitest'
import { type Answer, newBrowser, problem, Site, settled, show } from '../../../testing/site'
import type { Step } from '../useWork'
import { ReadAll } from './ReadAll'
import type { Instrument } from './Reading'
import type { Taken } from './readings'

const gate = (n: number) => ({ id: `core-${n}`, label: `core ${n}`, least: null, most: 1, instrument: 'ohm' })
const STEP = { id: 'test', gates: [gate(1), gate(2)] } as unknown as Step
const METER = { kind: 'ohm', name: 'bench meter' } as Instrument

/** Both readings, and a hand that types the second. */
function Bench() {
  const [kept, setKept] = useState<Record<string, Taken | null>>({})
  const set = (id: string) => (taken: Taken | null) => setKept((now) => ({ ...now, [id]: taken }))
  return (
    <>
      <ReadAll joint="J-1" step={STEP} instruments={[METER]} read={(id) => kept[id] ?? null} set={set} />
      <button type="button" onClick={() => set('core-2')({ value: 0.7 })}>
        type core 2
      </button>
      <output>{['core-1', 'core-2'].map((id) => kept[id]?.value ?? '–').join(' ')}</output>
    </>
  )
}

beforeEach(newBrowser)
const shown = () => screen.getByRole('status').textContent

describe('all readings of one instrument', () => {
  it('leave alone what is typed while they come in, and say that they do', async () => {
    const waiting: ((answer: Answer) => void)[] = []
    const site = new Site({
      'POST /joints/J-1/reading': () => new Promise((done) => waiting.push(done)),
    })
    await show(<Bench />)
    await userEvent.click(screen.getByRole('button', { name: 'Read all 2 from the bench meter' }))
    const busy = screen.getByRole('button', { name: 'Reading from the bench meter …' }) as HTMLButtonElement
    expect(busy.disabled).toBe(true)
    await userEvent.click(screen.getByRole('button', { name: 'type core 2' }))
    await act(async () => waiting[0]?.({ body: { value: 0.2, instrument: 'ohm' } }))
    await settled()
    expect(shown()).toBe('0.2 0.7')
    expect(site.at('POST', '/joints/J-1/reading')).toHaveLength(1)
    expect(screen.queryByText(/^Reading from/)).toBeNull()
  })

  it('say why there are none', async () => {
    new Site({ 'POST /joints/J-1/reading': problem(409, 'The meter is asleep.') })
    await show(<Bench />)
    await userEvent.click(screen.getByRole('button', { name: /^Read all 2/ }))
    await settled()
    expect(screen.getByRole('alert').textContent).toBe('The meter is asleep.')
    expect(shown()).toBe('– –')
  })
})
