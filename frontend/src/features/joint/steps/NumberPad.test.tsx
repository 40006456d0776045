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
    <NumberPad label="Distance" hint="45 ± 2" unit="mm" value={null} done={done} close={close} {...more} />,
  )
  return { done, close }
}
const key = (name: string) => userEvent.click(screen.getByRole('button', { name, hidden: true }))
const press = async (...names: string[]) => {
  for (const name of names) await key(name)
}

describe('the pad for gloves', () => {
  it('takes figures by its keys', async () => {
    const { done } = await pad()
    await press('4', '5', ',', '5', 'Take it')
    expect(done).toHaveBeenCalledWith(45.5)
  })

  it('writes over what stood there with the first key, and deletes figure by figure', async () => {
    const { done } = await pad({ value: 99 })
    await press('4', '7', '7', 'Delete the last figure', 'Take it')
    expect(done).toHaveBeenCalledWith(47)
  })

  it('takes inches as fractions', async () => {
    const { done } = await pad()
    await press('Change to inch', '1', 'space', '3', '/', '8', 'Take it')
    expect(done.mock.calls[0]?.[0]).toBeCloseTo(34.925)
  })

  it('goes below zero for temperatures only', async () => {
    const { done } = await pad({ unit: '°C' })
    await press('8', 'Below or above zero', 'Take it')
    expect(done).toHaveBeenCalledWith(-8)
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
}

describe('a reading of a step', () => {
  it('comes from the instrument by one touch, a new turn each', async () => {
    const site = new Site({
      'POST /joints/J-1/reading': { body: { value: 820, unit: 'MΩ', instrument: 'x' } },
    })
    const set = vi.fn()
    await show(<Reading joint="J-1" step="test" gate={GATE} value={null} set={set} />)
    await press('core 1 from the tester', 'core 1 from the tester')
    await settled()
    expect(set).toHaveBeenCalledWith(820)
    expect(site.at('POST', '/joints/J-1/reading').map((a) => (a.body as { turn: number }).turn)).toEqual([
      1, 2,
    ])
  })

  it('says why the instrument gives none, and sets nothing', async () => {
    new Site({ 'POST /joints/J-1/reading': problem(422, 'The battery is flat; type the reading.') })
    const set = vi.fn()
    await show(<Reading joint="J-1" step="test" gate={GATE} value={null} set={set} />)
    await press('core 1 from the tester')
    await settled()
    expect(screen.getByRole('alert').textContent).toBe('The battery is flat; type the reading.')
    expect(set).not.toHaveBeenCalled()
  })

  it('that does not pass says its limit', async () => {
    new Site()
    await show(<Reading joint="J-1" step="test" gate={GATE} value={0.3} set={vi.fn()} />)
    expect(screen.getByText(/core 1 does not pass/).textContent).toContain('1 MΩ')
  })
})
