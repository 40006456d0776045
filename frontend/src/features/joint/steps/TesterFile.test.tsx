// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, expect, it, vi } from 'vitest'
import { aStep } from '../../../testing/plan'
import { newBrowser, problem, Site, settled, show } from '../../../testing/site'
import { TesterFile } from './TesterFile'

beforeEach(() => {
  newBrowser()
  HTMLDialogElement.prototype.showModal ??= function showModal() {
    this.open = true
  }
})

const gate = (id: string, label: string) => ({
  id,
  label,
  unit: 'MΩ',
  target: null,
  tolerance: null,
  least: 1,
  most: null,
  required: true,
  accept: false,
  instrument: '',
  name: '',
  group: '',
  excuse: false,
  possible: null,
})
const step = aStep({
  id: 'test.1',
  kind: 'test',
  gates: [gate('a', 'core 1 to earth'), gate('b', 'core 2 to earth')],
})
const row = (line: number, shown: string, goes: string, value: number, more: object = {}) => ({
  line,
  label: `line of ${line}`,
  shown,
  values: { a: value, b: value },
  gate: goes,
  guessed: false,
  over: false,
  why: '',
  ...more,
})

async function opened(items: object[]) {
  new Site({ 'POST /joints/J-1/tester-file': { body: { items } } })
  const set = vi.fn()
  await show(<TesterFile joint="J-1" step={step} set={(g) => (taken) => set(g, taken)} />)
  await userEvent.click(screen.getByRole('button', { name: /tester’s file/ }))
  const file = new File(['x,1'], 'r.csv', { type: 'text/csv' })
  await userEvent.upload(screen.getByLabelText('File of the tester'), file)
  await settled()
  return set
}

it('shows where each reading goes before it is taken', async () => {
  const set = await opened([row(1, '1.5 GΩ', 'a', 1500), row(2, '> 2 GΩ', 'b', 2000, { over: true })])
  expect(set).not.toHaveBeenCalled()
  await userEvent.click(screen.getByRole('button', { name: 'Take 2 readings', hidden: true }))
  expect(set).toHaveBeenCalledWith('a', { value: 1500 })
  expect(set).toHaveBeenCalledWith('b', { value: 2000, over: true })
})

it('lets a person say where a line goes, and refuses two for one place', async () => {
  const set = await opened([row(1, '3', '', 3), row(2, '4', 'a', 4)])
  const [first] = screen.getAllByLabelText('goes to') as [HTMLElement]
  await userEvent.selectOptions(first, 'a')
  expect(screen.getByRole('alert', { hidden: true }).textContent).toContain('Two lines go to core 1 to earth')
  await userEvent.selectOptions(first, 'b')
  await userEvent.click(screen.getByRole('button', { name: 'Take 2 readings', hidden: true }))
  expect(set).toHaveBeenCalledWith('b', { value: 3 })
})

it('says what is wrong with a file', async () => {
  new Site({ 'POST /joints/J-1/tester-file': problem(422, 'holds no lines', '/text') })
  await show(<TesterFile joint="J-1" step={step} set={() => vi.fn()} />)
  await userEvent.click(screen.getByRole('button', { name: /tester’s file/ }))
  await userEvent.upload(
    screen.getByLabelText('File of the tester'),
    new File(['x'], 'r.csv', { type: 'text/csv' }),
  )
  await settled()
  expect(screen.getByRole('alert', { hidden: true }).textContent).toContain('holds no lines')
})
