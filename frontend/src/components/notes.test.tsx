// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import { beforeEach, expect, it } from 'vitest'
import { ApiError } from '../api/client'
import { newBrowser, Site, show } from '../testing/site'
import { ErrorNote } from './notes'

beforeEach(() => {
  newBrowser()
  new Site()
})

it('names the field that a message is about', async () => {
  const errors = [
    { path: '/ends/B/cores/0/insulation_od_mm', message: 'must be more than 0' },
    { path: '/sheet', message: 'Splice S5 does not serve this.' },
  ]
  const problem = { type: 'x', title: 'Not like this', status: 422, detail: '', errors }
  await show(<ErrorNote error={new ApiError(problem)} />)
  const items = (await screen.findAllByRole('listitem')).map((i) => i.textContent)
  expect(items).toEqual([
    'End B, core 1, insulation od must be more than 0',
    'Splice S5 does not serve this.',
  ])
})
