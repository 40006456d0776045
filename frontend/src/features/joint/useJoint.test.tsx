// @vitest-environment happy-dom

import { act, waitFor } from '@testing-library/react'
import { beforeEach, describe, expect, it } from 'vitest'
import { recall } from '../../model/device'
import { type Answer, type Asked, hook, newBrowser, problem, Site, settled } from '../../testing/site'
import { drafted, type Patch, useJoint } from './useJoint'

interface Stored {
  version: number
  title: string
  draft: object
}

/** A server that keeps one joint, guarded by its version. */
function keeper(start: Partial<Stored> = {}) {
  const row: Stored = { version: 1, title: 'Feeder', draft: {}, ...start }
  const state = { row, answer: null as Answer | null }
  const site = new Site({
    'GET /joints/J-1': () => ({ body: { ref: 'J-1', state: 'draft', ...state.row } }),
    'PATCH /joints/J-1': (asked: Asked) => {
      if (state.answer) return state.answer
      if (asked.headers.get('If-Match') !== `"${state.row.version}"`) return problem(409, 'changed elsewhere')
      state.row = { ...state.row, ...(asked.body as object), version: state.row.version + 1 }
      return { body: { ref: 'J-1', state: 'draft', ...state.row } }
    },
  })
  return { site, state }
}

const use = () => hook(() => useJoint('J-1'))
const saved = (site: Site) => site.at('PATCH', '/joints/J-1')

beforeEach(newBrowser)

describe('a joint being filled in', () => {
  it('is saved by itself after a pause, all that was typed in one go', async () => {
    const { site, state } = keeper()
    const { result } = await use()
    act(() => result.current.edit({ title: 'Feeder, p' }))
    act(() => result.current.edit({ title: 'Feeder, pit 4' }))
    expect(result.current.saving).toBe('waiting')
    await waitFor(() => expect(result.current.saving).toBe('saved'), { timeout: 2000 })
    expect(saved(site)).toHaveLength(1)
    expect(state.row.title).toBe('Feeder, pit 4')
    expect(localStorage.getItem('draft:J-1')).toBeNull()
  })

  it('saves the next change on the version the one before left', async () => {
    const { site, state } = keeper()
    const { result } = await use()
    for (const title of ['a', 'b']) {
      act(() => result.current.edit({ title }))
      await waitFor(() => expect(state.row.title).toBe(title), { timeout: 2000 })
      await settled()
    }
    expect(saved(site).map((a) => a.headers.get('If-Match'))).toEqual(['"1"', '"2"'])
  })

  it('keeps what was typed over a reload without a connection, with the version it was typed into', async () => {
    const { site, state } = keeper()
    state.answer = 'no connection'
    const first = await use()
    act(() => first.result.current.edit({ title: 'typed offline' }))
    await waitFor(() => expect(first.result.current.saving).toBe('offline'), { timeout: 2000 })
    first.unmount()
    expect(recall('draft:J-1')).toEqual({ title: 'typed offline' })
    state.answer = null
    const again = await use()
    expect(again.result.current.patch).toEqual({ title: 'typed offline' })
    await waitFor(() => expect(state.row.title).toBe('typed offline'), { timeout: 2000 })
    expect(saved(site).at(-1)?.headers.get('If-Match')).toBe('"1"')
  })

  it('makes a change that comes late of the draft as it is by then', async () => {
    const { state } = keeper({ draft: { asked: { rows: 1 } } })
    const { result } = await use()
    const late = (id: string, to: number) =>
      act(() => result.current.edit((now) => ({ asked: { ...now.asked, [id]: to } })))
    late('depth_mm', 2)
    late('turns', 3)
    await waitFor(() => expect(result.current.saving).toBe('saved'), { timeout: 2000 })
    expect((state.row as { asked?: object }).asked).toEqual({ rows: 1, depth_mm: 2, turns: 3 })
  })

  it('does not go back to an answer that was asked for before the last saving', async () => {
    const { site, state } = keeper()
    const { result } = await use()
    const before = { ref: 'J-1', state: 'draft', ...state.row }
    let tell = (_: Answer) => {}
    site.answers['GET /joints/J-1'] = () => new Promise((done) => (tell = done))
    act(() => result.current.touched())
    await settled()
    act(() => result.current.edit({ title: 'newer' }))
    await waitFor(() => expect(state.row.title).toBe('newer'), { timeout: 2000 })
    await act(async () => tell({ body: before }))
    await settled()
    expect(result.current.query.data?.title).toBe('newer')
  })

  it('overwrites nobody silently: two ways out of a conflict', async () => {
    const { state } = keeper()
    const { result } = await use()
    state.row = { ...state.row, title: 'theirs', version: 5 }
    act(() => result.current.edit({ title: 'mine' }))
    await waitFor(() => expect(result.current.saving).toBe('conflict'), { timeout: 2000 })
    expect(state.row.title).toBe('theirs')
    expect(localStorage.getItem('draft:J-1')).toContain('mine')
    await act(() => result.current.keepMine())
    await waitFor(() => expect(state.row.title).toBe('mine'), { timeout: 2000 })

    state.row = { ...state.row, title: 'theirs again', version: 9 }
    act(() => result.current.edit({ title: 'mine again' }))
    await waitFor(() => expect(result.current.saving).toBe('conflict'), { timeout: 2000 })
    await act(() => result.current.takeTheirs())
    expect(result.current.patch).toEqual({})
    expect(result.current.saving).toBe('saved')
    expect(state.row.title).toBe('theirs again')
  })

  it('says what was refused, and keeps it', async () => {
    const { state } = keeper()
    state.answer = problem(422, 'must be at most 200', '/title')
    const { result } = await use()
    act(() => result.current.edit({ title: 'x' }))
    await waitFor(() => expect(result.current.saving).toBe('refused'), { timeout: 2000 })
    expect(result.current.error?.at('/title')?.message).toBe('must be at most 200')
    expect(result.current.patch).toEqual({ title: 'x' })
  })

  it('that is released takes nothing, and what lingered here goes', async () => {
    const { site, state } = keeper()
    localStorage.setItem('draft:J-1', '{"title":"typed before"}')
    state.row = { ...state.row, state: 'released' } as typeof state.row
    const { result } = await use()
    await settled()
    act(() => result.current.edit({ title: 'after the release' }))
    await settled(700)
    expect(result.current.patch).toEqual({})
    expect(recall('draft:J-1')).toBeUndefined()
    expect(saved(site)).toEqual([])
  })

  it('settles at once when planning asks for it', async () => {
    const { state } = keeper()
    const { result } = await use()
    act(() => result.current.edit({ title: 'now' }))
    let version = 0
    await act(async () => {
      version = await result.current.settle()
    })
    expect([state.row.title, version]).toEqual(['now', 2])
  })

  it('bears with a store that is damaged', async () => {
    localStorage.setItem('draft:J-1', '{"title": "cut o')
    keeper()
    const { result } = await use()
    expect(result.current.patch).toEqual({})
    expect(result.current.query.data?.title).toBe('Feeder')
  })
})

it('shows a draft as it will be once everything is saved', () => {
  const joint = { draft: { card: { where: 'pit' }, sheet: 'a' } } as unknown as Parameters<typeof drafted>[0]
  expect(drafted(joint, { sheet: 'b' } as Patch)).toEqual({ card: { where: 'pit' }, sheet: 'b' })
})
