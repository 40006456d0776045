// @vitest-environment happy-dom
import { fireEvent, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '../../api/client'
import { newBrowser, problem, Site, settled, show } from '../../testing/site'
import { ImportStock } from './ImportStock'
import { type Figure, factsOf, firstLot, type Kind, type Part, sizeOf, stored, tidy } from './kinds'
import { PartForm } from './PartForm'
import { PartLots } from './PartLots'

beforeEach(newBrowser)

const figure = (key: string, more: Partial<Figure>): Figure => ({
  key,
  label: key,
  form: 'word',
  unit: '',
  hint: '',
  options: [],
  names: null,
  row: '',
  column: '',
  absent: '',
  ...more,
})
const SLEEVES: Kind = {
  name: 'sleeve',
  heading: 'Sleeves',
  figures: [
    figure('expanded_id_mm', { label: 'Inside as supplied, at least', form: 'length' }),
    figure('recovered_id_mm', { form: 'length' }),
    figure('form', { form: 'choice', options: ['tube', 'cap'] }),
    figure('lined', { label: 'adhesive-lined', form: 'flag', absent: 'plain' }),
    figure('voltage_v', { form: 'number', unit: 'V' }),
    figure('cure', { form: 'pairs', names: ['temperature_c', 'minutes'] }),
    figure('properties', { form: 'words' }),
  ],
  size: '{expanded_id_mm} → {recovered_id_mm}',
  facts: ['{form}', '{lined}', 'to {voltage_v}'],
  unit: 'm',
  stored: 1000,
}
const TAPES: Kind = { ...SLEEVES, name: 'tape', unit: 'rolls', stored: 1 }

const BOOTS: Kind = {
  ...SLEEVES,
  name: 'boot',
  figures: [
    figure('openings', {
      form: 'pairs',
      names: ['expanded_id_mm', 'recovered_id_mm', 'straight_mm'],
      row: '{expanded_id_mm} → {recovered_id_mm}',
    }),
  ],
  size: '{openings}',
  facts: [],
}

it('shows of a part with mouths what each opens and closes to, in the unit of the day', () => {
  const openings = [
    { expanded_id_mm: 38, recovered_id_mm: 14, straight_mm: 40 },
    { expanded_id_mm: 25.4, recovered_id_mm: 6, straight_mm: 34 },
  ]
  const part = { kind: 'boot', part_id: 'B', figures: { openings } } as unknown as Part
  expect(sizeOf(BOOTS, part, 'mm')).toBe('38 → 14, 25.4 → 6')
  expect(sizeOf(BOOTS, part, 'inch')).toBe('1.496 → 0.551, 1 → 0.236')
})

describe('the first lot of a part', () => {
  it('is there as soon as anything of it was typed, with or without a lot number', () => {
    expect(firstLot(SLEEVES, '', null, '')).toBeNull()
    expect(firstLot(SLEEVES, '', 6.4, '')).toEqual({ name: undefined, quantity: 6400, use_by: null })
    expect(firstLot(TAPES, ' k6 ', 12, '2028-01-31')).toEqual({
      name: 'k6',
      quantity: 12,
      use_by: '2028-01-31',
    })
    expect(firstLot(TAPES, '', null, '2028-01-31')).toEqual({
      name: undefined,
      quantity: 0,
      use_by: '2028-01-31',
    })
  })

  it('is stored to a thousandth of a millimetre', () => {
    expect(stored(SLEEVES, 0.1 + 0.2)).toBe(300)
    expect(stored(TAPES, 3)).toBe(3)
  })
})

describe('a kind of part', () => {
  const part = (figures: object) => ({ figures }) as unknown as Schemas['StockPart']

  it('says what its list shows, with the unit once, and leaves out what is not there', () => {
    const sleeve = part({ expanded_id_mm: 25.4, recovered_id_mm: 8, form: 'cap', lined: true })
    expect(sizeOf(SLEEVES, sleeve, 'mm')).toBe('25.4 → 8 mm')
    expect(sizeOf(SLEEVES, sleeve, 'inch')).toBe('1 → 0.315 in')
    expect(factsOf(SLEEVES, sleeve, 'mm')).toBe('cap, adhesive-lined')
    expect(factsOf(SLEEVES, part({ form: 'tube', voltage_v: 600 }), 'mm')).toBe('tube, plain, to 600 V')
  })

  it('sends lists without blanks, pairs as numbers and the choice that is shown', () => {
    expect(tidy({ properties: ['uv-resistant', ' ', ''], cure: '5 = 70, 20 = 25' }, SLEEVES)).toEqual({
      properties: ['uv-resistant'],
      cure: [
        { temperature_c: 5, minutes: 70 },
        { temperature_c: 20, minutes: 25 },
      ],
      form: 'tube',
    })
  })
})

describe('adding a part', () => {
  async function form(answer = {}) {
    const site = new Site({ 'POST /stock': { status: 201, body: {} }, ...answer })
    const close = vi.fn()
    await show(<PartForm kind={SLEEVES} close={close} />)
    await userEvent.type(screen.getByLabelText('Part id'), 'S-28')
    await userEvent.type(screen.getByLabelText('Inside as supplied, at least'), '28')
    return { site, close }
  }
  const add = () => userEvent.click(screen.getByRole('button', { name: 'Add to the stock' }))

  it('sends what is on hand although no lot was named', async () => {
    const { site, close } = await form()
    await userEvent.type(screen.getByLabelText('On hand'), '6,4')
    await add()
    await settled()
    expect(site.at('POST', '/stock')[0]?.body).toEqual({
      kind: 'sleeve',
      figures: { id: 'S-28', expanded_id_mm: 28, form: 'tube' },
      lot: { quantity: 6400, use_by: null },
    })
    expect(close).toHaveBeenCalled()
  })

  it('says what is wrong at the field, and loses nothing', async () => {
    const { close } = await form({ 'POST /stock': problem(422, 'must have no / in it', '/figures/id') })
    await add()
    await settled()
    expect(screen.getByText('must have no / in it')).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('Inside as supplied, at least').value).toBe('28')
    expect(close).not.toHaveBeenCalled()
  })
})

const PART = {
  part_id: 'S/28',
  kind: 'sleeve',
  retired: false,
  version: 1,
  figures: { id: 'S/28', expanded_id_mm: 28 },
  on_hand: 6400,
  reserved: 500,
  lots: [
    { id: 3, name: 'L1', quantity: 6400, reserved: 500, use_by: '2028-01-31', opened: true, place: 'van' },
  ],
} as unknown as Schemas['StockPart']

describe('a part laid open', () => {
  it('shows its lots in the unit they are counted in, and asks for any id by its address', async () => {
    new Site()
    await show(<PartLots kind={SLEEVES} part={PART} works={false} />)
    expect(screen.getByText('6.4 m')).toBeTruthy()
    expect(screen.getByText(/0.5 reserved, use by 31 Jan 2028, opened, van/)).toBeTruthy()
    expect(screen.getByText('Label').getAttribute('href')).toBe('/api/v1/stock/S%2F28/lots/3/label.pdf')
    expect(screen.queryByText('Book in')).toBeNull()
  })

  it('books a delivery in without a lot number', async () => {
    const site = new Site({ 'POST /stock/S%2F28/lots': { status: 201, body: {} } })
    await show(<PartLots kind={SLEEVES} part={PART} works />)
    await userEvent.type(screen.getByLabelText('Delivered'), '2')
    await userEvent.click(screen.getByText('Book in'))
    await settled()
    expect(site.at('POST', '/stock/S%2F28/lots')[0]?.body).toEqual({ quantity: 2000, use_by: null })
  })

  it('counts in the same unit', async () => {
    const site = new Site({ 'POST /stock/S%2F28/lots/3/count': { body: {} } })
    await show(<PartLots kind={SLEEVES} part={PART} works />)
    await userEvent.click(screen.getByText('Count'))
    await userEvent.type(screen.getByLabelText('Found of L1'), '5,25')
    await userEvent.click(screen.getByText('Put down'))
    await settled()
    expect(site.at('POST', '/stock/S%2F28/lots/3/count')[0]?.body).toEqual({ quantity: 5250 })
  })

  it('says how long what is opened lasts, where its sheet does', async () => {
    const site = new Site({ 'POST /stock/S%2F28/lots/3/count': { body: {} } })
    const pastes = {
      ...SLEEVES,
      figures: [...SLEEVES.figures, figure('opened_days', { form: 'number', unit: 'days' })],
    }
    const lots = [{ ...PART.lots[0], opened: false }] as Schemas['StockPart']['lots']
    const paste = { ...PART, lots, figures: { ...PART.figures, opened_days: 90 } } as Schemas['StockPart']
    await show(<PartLots kind={pastes} part={paste} works />)
    await userEvent.click(screen.getByText('Count'))
    await userEvent.type(screen.getByLabelText('Found of L1'), '1')
    await userEvent.click(screen.getByLabelText('opened: it lasts 90 days from today'))
    await userEvent.type(screen.getByLabelText('Kept at'), '5')
    await userEvent.click(screen.getByText('Put down'))
    await settled()
    expect(site.at('POST', '/stock/S%2F28/lots/3/count')[0]?.body).toEqual({
      quantity: 1000,
      opened: true,
      stored_c: 5,
    })
  })
})

describe('a list', () => {
  const report = (more: object = {}) => ({ applied: false, changes: [], unchanged: 0, errors: [], ...more })
  const change = { line: 2, part_id: 'A', what: 'new', details: ['new lot unmarked: 6.4 m'] }

  it('is shown with its units before it is taken', async () => {
    const site = new Site({
      'POST /stock-import': (a) => ({
        body: report({ changes: [change], applied: (a.body as { apply: boolean }).apply }),
      }),
    })
    await show(<ImportStock close={vi.fn()} />)
    fireEvent.change(screen.getByLabelText('Or paste the list here'), { target: { value: 'kind,id' } })
    await userEvent.click(screen.getByText('Check it'))
    await settled()
    expect(screen.getByText(/new lot unmarked: 6.4 m/)).toBeTruthy()
    await userEvent.click(screen.getByText('Take all 1 changes'))
    await settled()
    expect(site.at('POST', '/stock-import').map((a) => (a.body as { apply: boolean }).apply)).toEqual([
      false,
      true,
    ])
    expect(screen.getByText('Taken: 1 changes.')).toBeTruthy()
  })

  it('with a fault offers nothing to take, and names line and column', async () => {
    new Site({
      'POST /stock-import': {
        body: report({ errors: [{ line: 3, column: 'unit', message: 'must be mm or m' }] }),
      },
    })
    await show(<ImportStock close={vi.fn()} />)
    fireEvent.change(screen.getByLabelText('Or paste the list here'), { target: { value: 'kind,id' } })
    await userEvent.click(screen.getByText('Check it'))
    await settled()
    expect(screen.getByText('Line 3').closest('li')?.textContent).toBe('Line 3, unit: must be mm or m')
    expect(screen.queryByText(/Take all/)).toBeNull()
  })
})
