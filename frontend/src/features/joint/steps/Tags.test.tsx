// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import { beforeEach, expect, it } from 'vitest'
import { newBrowser, Site, show } from '../../../testing/site'
import { Tags } from './Tags'

beforeEach(newBrowser)

it('says what to write on every tag, and what the numbers mean', async () => {
  new Site()
  const tags = [
    { core: 'core 1', says: '1 · 2' },
    { core: 'core 2', says: '2 · 1' },
  ]
  await show(<Tags tags={tags} walked />)
  expect(screen.getByRole('region', { name: 'Tags' })).toBeTruthy()
  expect(screen.getAllByRole('listitem').map((x) => x.textContent)).toEqual([
    'core 1: 1 · 2',
    'core 2: 2 · 1',
  ])
  expect(screen.getByText(/same two numbers/)).toBeTruthy()
})

it('says nothing where no core is told apart', async () => {
  new Site()
  await show(<Tags tags={[]} walked={false} />)
  expect(screen.queryByRole('region', { name: 'Tags' })).toBeNull()
})
