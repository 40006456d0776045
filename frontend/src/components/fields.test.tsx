// @vitest-environment happy-dom
import { fireEvent, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { newBrowser, Site, show } from '../testing/site'
import { NumberField, QuantityField, SelectField, TextField } from './fields'

beforeEach(() => {
  newBrowser()
  new Site()
})

function Quantity({ told, start = null }: { told: (mm: number | null) => void; start?: number | null }) {
  const [mm, setMm] = useState<number | null>(start)
  return (
    <>
      <QuantityField
        label="Sheath"
        mm={mm}
        onChange={(v) => {
          setMm(v)
          told(v)
        }}
      />
      <button type="button" onClick={() => setMm(20)}>
        from outside
      </button>
    </>
  )
}

function Ambient({ told }: { told: (value: number | null) => void }) {
  const [value, setValue] = useState<number | null>(null)
  return (
    <NumberField
      label="Ambient"
      unit="°C"
      value={value}
      onChange={(v) => {
        setValue(v)
        told(v)
      }}
    />
  )
}

const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name)

describe('a quantity', () => {
  it.each([
    ['15.4', 15.4],
    ['15,4', 15.4],
    ['1/2 in', 12.7],
    ['0', 0],
  ])('takes %s', async (text, mm) => {
    const told = vi.fn()
    await show(<Quantity told={told} />)
    await userEvent.type(field('Sheath'), text)
    expect(told).toHaveBeenLastCalledWith(mm)
    expect(field('Sheath').value).toBe(text) // what was typed stays as it was typed
  })

  it('tells what is no number from what can still become one', async () => {
    const told = vi.fn()
    await show(<Quantity told={told} />)
    await userEvent.type(field('Sheath'), '1/')
    expect(screen.queryByText(/Write it like/)).toBeNull()
    await userEvent.clear(field('Sheath'))
    await userEvent.type(field('Sheath'), 'abc')
    expect(screen.getByText(/Write it like 5.3 or 5,3/)).toBeTruthy()
    expect(told).not.toHaveBeenCalledWith(Number.NaN)
  })

  it('emptied says there is none, and follows what comes from outside', async () => {
    const told = vi.fn()
    await show(<Quantity told={told} start={15.4} />)
    await userEvent.clear(field('Sheath'))
    expect(told).toHaveBeenLastCalledWith(null)
    await userEvent.click(screen.getByText('from outside'))
    expect(field('Sheath').value).toBe('20')
  })

  it('stands in inches where the page does', async () => {
    localStorage.setItem('unit', 'inch')
    await show(<Quantity told={vi.fn()} start={25.4} />)
    expect(field('Sheath').value).toMatch(/^1/)
  })
})

describe('a plain number', () => {
  it('takes comma and minus, and says what is none', async () => {
    const told = vi.fn()
    await show(<Ambient told={told} />)
    await userEvent.type(field('Ambient'), '-6,5')
    expect(told).toHaveBeenLastCalledWith(-6.5)
    await userEvent.clear(field('Ambient'))
    await userEvent.type(field('Ambient'), 'cold')
    expect(screen.getByText('Write a number')).toBeTruthy()
  })
})

describe('every field', () => {
  it('has its label and its words bound to it, the fault before the hint', async () => {
    await show(
      <>
        <TextField label="Where" value="" onChange={vi.fn()} hint="Such as: pit 4" />
        <TextField label="Why" value="" onChange={vi.fn()} hint="a hint" error="say why" />
      </>,
    )
    const words = (name: string) =>
      document.getElementById(field(name).getAttribute('aria-describedby') ?? '')?.textContent
    expect(words('Where')).toBe('Such as: pit 4')
    expect(words('Why')).toBe('say why')
    expect(field('Why').getAttribute('aria-invalid')).toBe('true')
  })

  it('of a few choices tells which', async () => {
    const told = vi.fn()
    await show(
      <SelectField
        label="Kind"
        value="a"
        options={[
          ['a', 'crimp'],
          ['b', 'bolted'],
        ]}
        onChange={told}
      />,
    )
    fireEvent.change(screen.getByLabelText('Kind'), { target: { value: 'b' } })
    expect(told).toHaveBeenCalledWith('b')
  })
})
