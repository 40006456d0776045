// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react'
import { Component, type ReactNode } from 'react'
import { afterEach, expect, it, vi } from 'vitest'
import { Later } from './Later'
import '../testing/patience'

const Page = ({ name }: { name: string }) => <h1>{name}</h1>

class Told extends Component<{ children: ReactNode }> {
  state = { words: '' }
  static getDerivedStateFromError(fault: Error) {
    return { words: fault.message }
  }
  render() {
    return this.state.words || this.props.children
  }
}

afterEach(cleanup)

it('says what it fetches, shows it when it is there, and at once from then on', async () => {
  const load = vi.fn(async () => Page)
  const first = render(<Later of={load} what="the page" with={{ name: 'Stock' }} />)
  expect(screen.getByRole('status').textContent).toContain('Fetching the page')
  expect(await screen.findByRole('heading', { name: 'Stock' })).toBeTruthy()
  first.unmount()
  render(<Later of={load} what="the page" with={{ name: 'Stock again' }} />)
  expect(screen.getByRole('heading', { name: 'Stock again' })).toBeTruthy()
  expect(load).toHaveBeenCalledTimes(1)
})

it('shows another in its place', async () => {
  const other = async () => () => <h1>Rules</h1>
  const { rerender } = render(<Later of={async () => Page} what="the page" with={{ name: 'Tools' }} />)
  rerender(<Later of={other} what="the page" with={{}} />)
  expect(await screen.findByRole('heading', { name: 'Rules' })).toBeTruthy()
})

it('tells the boundary around it what could not be fetched', async () => {
  vi.spyOn(console, 'error').mockImplementation(() => {})
  const load = () => Promise.reject(new Error('no signal'))
  render(
    <Told>
      <Later of={load} what="the page" with={{}} />
    </Told>,
  )
  expect(await screen.findByText('no signal')).toBeTruthy()
  vi.restoreAllMocks()
})
