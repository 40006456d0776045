// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Link, Route, Routes } from 'react-router'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { newBrowser, Site, show } from '../testing/site'
import { Unbroken } from './Broken'

beforeEach(newBrowser)

function Bad(): never {
  throw new Error('cores is undefined')
}

describe('a page that breaks', () => {
  it('says so with what can be done, and takes no other page with it', async () => {
    new Site()
    const quiet = vi.spyOn(console, 'error').mockImplementation(() => undefined)
    await show(
      <>
        <Link to="/whole">elsewhere</Link>
        <Unbroken>
          <Routes>
            <Route path="/bad" element={<Bad />} />
            <Route path="/whole" element={<p>all is well</p>} />
          </Routes>
        </Unbroken>
      </>,
      { path: '/bad' },
    )
    quiet.mockRestore()
    expect(screen.getByRole('alert').textContent).toContain('cores is undefined')
    expect(screen.getByRole('button', { name: 'Load it again' })).toBeTruthy()
    await userEvent.click(screen.getByText('elsewhere'))
    expect(screen.getByText('all is well')).toBeTruthy()
    expect(screen.queryByRole('alert')).toBeNull()
  })
})
