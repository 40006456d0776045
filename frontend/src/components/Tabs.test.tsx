// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { afterEach, expect, it } from 'vitest'
import { Tabs } from './Tabs'

afterEach(cleanup)

const TABS = [
  { id: 'a', title: 'Cores' },
  { id: 'b', title: 'Outer', bad: true },
  { id: 'c', title: 'Other' },
]

function Page({ start }: { start?: string }) {
  const [at, setAt] = useState(start)
  return (
    <Tabs label="Layers" tabs={TABS} at={at} onTab={setAt}>
      <p>shows {at ?? 'the first'}</p>
    </Tabs>
  )
}

const chosen = () => screen.getByRole('tab', { selected: true }).textContent

it('names its panel after the tab that is chosen, and says what is not good', async () => {
  render(<Page start="a" />)
  expect(screen.getByRole('tabpanel', { name: 'Cores' }).textContent).toBe('shows a')
  await userEvent.click(screen.getByRole('tab', { name: 'Outer ✕' }))
  expect(screen.getByRole('tabpanel', { name: 'Outer ✕' }).textContent).toBe('shows b')
})

it('is gone along by arrow keys, round its ends, with one tab in the way of the tab key', async () => {
  render(<Page start="a" />)
  await userEvent.tab()
  const seen: (string | null)[] = []
  for (const key of ['{ArrowRight}', '{ArrowRight}', '{ArrowRight}', '{ArrowLeft}', '{Home}', '{End}']) {
    await userEvent.keyboard(key)
    seen.push(chosen())
    expect(document.activeElement?.textContent).toBe(chosen())
  }
  expect(seen).toEqual(['Outer ✕', 'Other', 'Cores', 'Other', 'Cores', 'Other'])
  expect(screen.getAllByRole('tab').map((t) => t.tabIndex)).toEqual([-1, -1, 0])
})

it('leaves other keys alone, and shows the first where nothing is chosen', async () => {
  render(<Page />)
  expect(chosen()).toBe('Cores')
  await userEvent.tab()
  await userEvent.keyboard('x')
  expect(chosen()).toBe('Cores')
})

it('are a list to choose from on a narrow screen where there are many', async () => {
  const many = Array.from({ length: 9 }, (_, n) => ({ id: `t${n}`, title: `Kind ${n}`, bad: n === 3 }))
  let chose = ''
  const { rerender } = render(
    <Tabs label="Kinds" tabs={many} at="t1" onTab={(id) => (chose = id)}>
      it
    </Tabs>,
  )
  const list = screen.getByRole('combobox', { name: 'Kinds' }) as HTMLSelectElement
  expect(list.value).toBe('t1')
  await userEvent.selectOptions(list, 'Kind 3 ✕')
  expect(chose).toBe('t3')
  rerender(
    <Tabs label="Kinds" tabs={many.slice(0, 8)} at="t1" onTab={() => undefined}>
      it
    </Tabs>,
  )
  expect(screen.queryByRole('combobox')).toBeNull()
})
