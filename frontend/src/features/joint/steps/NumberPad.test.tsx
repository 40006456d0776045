// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { newBrowser, problem, Site, settled, show } from '../../../testing/site'
import { NumberPad } from './NumberPad'
import { Reading } from './Reading'

beforeEach(() => {
  newBrowser()
  HTMLDialogElement.prototype.showModal ??= function showModal() {
    this.open = true
  }
})

async function pad(more: Partial<Parameters<typeof NumberPad>[0]> = {}) {
  new Site()
  const done = vi.fn()
  const close = vi.fn()
  await show(
    <NumberPad label="Distance" hint="45 ± 2" unit="mm" taken={null} done={done} close={close} {...more} />,
  )
  return { done, close }
}
const key = (name: string) => userEvent.click(screen.getByRole('button', { name, hidden: true }))
const press = async (...names: string[]) => {
  for (const name of names) await key(name)
}

describe('the pad for gloves', () => {
  it('takes resistances as the display has them, and when it shows only more', async () => {
    const { done } = await pad({ unit: 'MΩ' })
    await press('2', '0', '0', 'GΩ', 'Take it')
    expect(done).toHaveBeenCalledWith({ value: 200_000 })
  })

  it('takes kilohms, and what is beyond the display', async () => {
    const { done } = await pad({ unit: 'MΩ' })
    await press('4', '5', '0', 'kΩ', 'Take it')
    expect(done.mock.calls[0]?.[0].value).toBeCloseTo(0.45)
  })

  it('takes the end of the display’s range as that', async () => {
    const { done } = await pad({ unit: 'MΩ' })
    await press('9', '9', '9', 'over', 'Take it')
    expect(done).toHaveBeenCalledWith({ value: 999, over: true })
  })

  it('takes figures by its keys', async () => {
    const { done } = await pad()
    await press('4', '5', ',', '5', 'Take it')
    expect(done).toHaveBeenCalledWith({ value: 45.5 })
  })

  it('writes over what stood there with the first key, and deletes figure by figure', async () => {
    const { done } = await pad({ taken: { value: 99 } })
    await press('4', '7', '7', 'Delete the last figure', 'Take it')
    expect(done).toHaveBeenCalledWith({ value: 47 })
  })

  it('takes inches as fractions', async () => {
    const { done } = await pad()
    await press('Change to inch', '1', 'space', '3', '/', '8', 'Take it')
    expect(done.mock.calls[0]?.[0].value).toBeCloseTo(34.925)
  })

  it('goes below zero for temperatures only', async () => {
    const { done } = await pad({ unit: '°C' })
    await press('8', 'Below or above zero', 'Take it')
    expect(done).toHaveBeenCalledWith({ value: -8 })
    expect(screen.queryByRole('button', { name: '/', hidden: true })).toBeNull()
  })

  it('takes nothing that is no number, and leaves what was', async () => {
    const { done, close } = await pad({ unit: 'MΩ' })
    await press(',')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Take it', hidden: true }).disabled).toBe(
      true,
    )
    await press('Leave it')
    expect(done).not.toHaveBeenCalled()
    expect(close).toHaveBeenCalled()
  })
})

const GATE = {
  id: 'core-1',
  label: 'core 1',
  unit: 'MΩ',
  target: null,
  tolerance: null,
  least: 1,
  most: null,
  required: true,
  accept: false,
  instrument: 'insulation-tester',
  name: '',
  group: '',
  excuse: false,
  possible: null,
}

const TESTER = { kind: 'insulation-tester', name: 'simulated insulation tester', simulated: true }

describe('a reading of a step', () => {
  it('that was typed is not replaced by an instrument unasked', async () => {
    const site = new Site({
      'POST /joints/J-1/reading': {
        body: { value: 26536, unit: 'MΩ', instrument: 'insulation-tester', simulated: true },
      },
    })
    const set = vi.fn()
    await show(
      <Reading joint="J-1" step="test" gate={GATE} taken={{ value: 0.3 }} set={set} instruments={[TESTER]} />,
    )
    await press('core 1 from the simulated insulation tester')
    await settled()
    expect(set).not.toHaveBeenCalled()
    expect(site.at('POST', '/joints/J-1/reading')).toEqual([])
    expect(screen.getByRole('dialog', { hidden: true })).toBeTruthy()
  })

  it('from a stand-in says that it is simulated, and one that is typed does not', async () => {
    new Site()
    const { rerender } = await show(
      <Reading
        joint="J-1"
        step="test"
        gate={GATE}
        taken={{ value: 820, by: 'insulation-tester' }}
        set={vi.fn()}
        instruments={[TESTER]}
      />,
    )
    expect(screen.getByText(/^Simulated:/)).toBeTruthy()
    rerender(
      <Reading
        joint="J-1"
        step="test"
        gate={GATE}
        taken={{ value: 820 }}
        set={vi.fn()}
        instruments={[TESTER]}
      />,
    )
    expect(screen.queryByText(/^Simulated:/)).toBeNull()
  })

  it('offers no instrument where none is connected', async () => {
    new Site()
    await show(<Reading joint="J-1" step="test" gate={GATE} taken={null} set={vi.fn()} instruments={[]} />)
    expect(screen.getAllByRole('button')).toHaveLength(1)
  })

  it('fallen far under what it was before closing warns where it is read', async () => {
    new Site()
    const trend = {
      step: 'test',
      gate: 'core-1',
      before_mohm: 820,
      before_over: false,
      before_c: 12,
      warn_below_mohm: 82,
    }
    const { rerender } = await show(
      <Reading
        joint="J-1"
        step="test"
        gate={GATE}
        taken={{ value: 60 }}
        set={vi.fn()}
        instruments={[]}
        trend={trend}
      />,
    )
    expect(screen.getByRole('alert').textContent).toContain('Far under')
    rerender(
      <Reading
        joint="J-1"
        step="test"
        gate={GATE}
        taken={{ value: 700 }}
        set={vi.fn()}
        instruments={[]}
        trend={trend}
      />,
    )
    expect(screen.queryByRole('alert')).toBeNull()
  })

  it('comes from the instrument by one touch, a new turn each', async () => {
    const site = new Site({
      'POST /joints/J-1/reading': {
        body: { value: 820, unit: 'MΩ', instrument: 'insulation-tester', simulated: true },
      },
    })
    const set = vi.fn()
    await show(<Reading joint="J-1" step="test" gate={GATE} taken={null} set={set} instruments={[TESTER]} />)
    await press('core 1 from the simulated insulation tester', 'core 1 from the simulated insulation tester')
    await settled()
    expect(set).toHaveBeenCalledWith({ value: 820, by: 'insulation-tester' })
    expect(site.at('POST', '/joints/J-1/reading').map((a) => (a.body as { turn: number }).turn)).toEqual([
      1, 2,
    ])
  })

  it('says why the instrument gives none, and sets nothing', async () => {
    new Site({ 'POST /joints/J-1/reading': problem(422, 'The battery is flat; type the reading.') })
    const set = vi.fn()
    await show(<Reading joint="J-1" step="test" gate={GATE} taken={null} set={set} instruments={[TESTER]} />)
    await press('core 1 from the simulated insulation tester')
    await settled()
    expect(screen.getByRole('alert').textContent).toBe('The battery is flat; type the reading.')
    expect(set).not.toHaveBeenCalled()
  })

  it('that does not pass says its limit', async () => {
    new Site()
    await show(
      <Reading joint="J-1" step="test" gate={GATE} taken={{ value: 0.3 }} set={vi.fn()} instruments={[]} />,
    )
    expect(screen.getByText(/core 1 does not pass/).textContent).toContain('1 MΩ')
  })
})
