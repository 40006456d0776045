// @vitest-environment happy-dom

import { act, waitFor } from '@testing-library/react'
import { beforeEach, describe, expect, it } from 'vitest'
import { recall } from '../../model/device'
import { type Answer, type Asked, hook, newBrowser, problem, Site } from '../../testing/site'
import { useSheet } from './useSheet'

/** A server that keeps one sheet, guarded by its version. */
function keeper() {
  const state = {
    sheet: { id: 's', name: 'Seal' } as object,
    version: 3,
    answer: null as Answer | null,
    slow: 0,
  }
  const out = () => ({ sheet: state.sheet, version: state.version, doubts: [], prepared: [], revisions: [1] })
  const site = new Site({
    'GET /sheets/s': () => ({ body: out() }),
    'POST /sheets/look': async () => {
      await new Promise((done) => setTimeout(done, state.slow))
      return state.answer ?? { body: { doubts: [{ path: '/x', message: 'does not add up' }], prepared: [] } }
    },
    'PUT /sheets/s': (asked: Asked) => {
      if (asked.headers.get('If-Match') !== `"${state.version}"`)
        return problem(409, 'changed by somebody else')
      state.sheet = asked.body as object
      state.version += 1
      return { body: out() }
    },
  })
  return { site, state }
}
const use = (may = true) => hook(() => useSheet('s', may))
const SOON = { timeout: 2500 }

beforeEach(newBrowser)

describe('a sheet being typed', () => {
  it('is looked at and saved after a pause', async () => {
    const { site, state } = keeper()
    const { result } = await use()
    act(() => result.current.edit({ name: 'Seal, long' }))
    await waitFor(() => expect(state.version).toBe(4), SOON)
    await waitFor(() => expect(result.current.saving).toBe('saved'), SOON)
    expect(result.current.sheet?.name).toBe('Seal, long')
    expect(site.at('POST', '/sheets/look')).toHaveLength(1)
    expect(localStorage.getItem('sheet:s')).toBeNull()
  })

  it('typed on while it is being saved ends as what was typed last', async () => {
    const { state } = keeper()
    state.slow = 200
    const { result } = await use()
    act(() => result.current.edit({ name: 'a' }))
    await waitFor(() => expect(result.current.saving).toBe('saving'), SOON)
    act(() => result.current.edit({ name: 'b' }))
    await waitFor(() => expect((state.sheet as { name: string }).name).toBe('b'), SOON)
    expect(state.version).toBe(5)
  })

  it('is never saved over somebody else’s', async () => {
    const { state } = keeper()
    const { result } = await use()
    state.version = 9
    state.sheet = { id: 's', name: 'theirs' }
    act(() => result.current.edit({ name: 'mine' }))
    await waitFor(() => expect(result.current.saving).toBe('conflict'), SOON)
    expect((state.sheet as { name: string }).name).toBe('theirs')
    expect(result.current.sheet?.name).toBe('mine')
    await act(() => result.current.keepMine())
    await waitFor(() => expect((state.sheet as { name: string }).name).toBe('mine'), SOON)
    act(() => result.current.edit({ name: 'again' }))
    act(() => result.current.drop())
    expect(result.current.sheet?.name).toBe('mine')
  })

  it('is kept over a reload without a connection, with the version it was typed into', async () => {
    const { state } = keeper()
    state.answer = 'no connection'
    const first = await use()
    act(() => first.result.current.edit({ name: 'offline' }))
    await waitFor(() => expect(first.result.current.saving).toBe('offline'), SOON)
    first.unmount()
    expect(recall('sheet:s')).toMatchObject({
      version: 3,
      sheet: { name: 'offline' },
    })
    state.answer = null
    await use()
    await waitFor(() => expect((state.sheet as { name: string }).name).toBe('offline'), SOON)
  })

  it('is not saved by whoever may not', async () => {
    const { site } = keeper()
    const { result } = await use(false)
    act(() => result.current.edit({ name: 'x' }))
    await new Promise((done) => setTimeout(done, 600))
    expect(site.at('PUT', '/sheets/s')).toEqual([])
  })
})
