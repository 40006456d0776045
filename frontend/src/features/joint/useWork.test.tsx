// @vitest-environment happy-dom
import { act, waitFor } from '@testing-library/react'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { useOutbox } from '../../components/outbox'
import { keepAnswer, type Outgoing } from '../../model/device'
import { hook, newBrowser, newClient, problem, Site, settled } from '../../testing/site'
import { notYetKnown, unsent, useEvents, useWork, type Work } from './useWork'

const work = (events: number, more: object = {}) => ({
  ref: 'J-1',
  number: 1,
  now: new Date().toISOString(),
  events: Array.from({ length: events }, (_, i) => ({ id: String(i) })),
  progress: { steps: [], cures: [] },
  dials: [],
  ...more,
})

beforeEach(newBrowser)

describe('the work at a joint', () => {
  it('is there without a connection once it was seen, after a reload too', async () => {
    const site = new Site({ 'GET /joints/J-1/work': { body: work(2) } })
    const first = await hook(() => useWork('J-1', true))
    expect(first.result.current.data?.events).toHaveLength(2)
    first.unmount()
    site.answers['GET /joints/J-1/work'] = 'no connection'
    const again = await hook(() => useWork('J-1', true), { client: newClient() })
    expect(again.result.current.data?.events).toHaveLength(2)
  })

  it('that the server cannot read any more is told, not shown as it once was', async () => {
    await keepAnswer('work:J-1', work(2))
    new Site({
      'GET /joints/J-1/work': problem(422, 'written by a newer Tin Knot', undefined, 'tinknot:unreadable'),
    })
    const { result } = await hook(() => useWork('J-1', true))
    await waitFor(() => expect(result.current.error?.message).toBe('written by a newer Tin Knot'))
  })

  it('says what is wrong where it was never seen', async () => {
    new Site({ 'GET /joints/J-1/work': 'no connection' })
    const { result } = await hook(() => useWork('J-1', true))
    await waitFor(() => expect(result.current.error).not.toBeNull())
  })

  it('never goes back to a log that is shorter', async () => {
    const client = newClient()
    client.setQueryData(['work', 'J-1'], work(3))
    new Site({ 'GET /joints/J-1/work': { body: work(2) } })
    const { result } = await hook(() => useWork('J-1', true), { client })
    await settled()
    expect(result.current.data?.events).toHaveLength(3)
  })

  it('knows an event once, also while it is in the log and in the box', () => {
    const item = (id: string) => ({ ref: 'J-1', owner: 'runa', actor: 'Runa', event: { id } }) as Outgoing
    const log = [{ id: 'a' }, { id: 'b' }] as Work['events']
    const box = unsent({ items: [item('b'), item('c')], lately: [item('a'), item('d')] }, log)
    expect(box.items.map((i) => i.event.id)).toEqual(['c'])
    expect(notYetKnown(log, box).map((i) => i.event.id)).toEqual(['d', 'c'])
  })

  it('is not asked for before there is a plan', async () => {
    const site = new Site()
    await hook(() => useWork('J-1', false))
    expect(site.at('GET', '/joints/J-1/work')).toEqual([])
  })
})

describe('events made here', () => {
  it('have their own ids, the plan’s revision, and a sequence that only rises', async () => {
    new Site()
    const add = vi.fn()
    const outbox = { add } as unknown as ReturnType<typeof useOutbox>
    const { result } = await hook(() => useEvents(work(0, { number: 4 }) as unknown as Work, outbox))
    const picture = new Blob(['x'])
    await act(async () => {
      await result.current('done', ['a', { step: 'b', values: { x: 1 } }], { text: 'why' })
      await result.current('photo', { step: 'a', photo: 'f'.repeat(64), picture })
    })
    const [first, second] = add.mock.calls.map((c) => c[0])
    expect(first).toHaveLength(2)
    expect(first[1]).toMatchObject({
      ref: 'J-1',
      actor: 'Runa',
      event: { step: 'b', values: { x: 1 }, text: 'why', revision: 4 },
    })
    expect(second[0].picture).toBe(picture)
    expect(second[0].event).not.toHaveProperty('picture')
    const all = [...first, ...second].map((i) => i.event)
    expect(new Set(all.map((e) => e.id)).size).toBe(3)
    expect(all.map((e) => e.sequence)).toEqual([1, 2, 3])
    expect(new Set(all.map((e) => e.device)).size).toBe(1)
  })
})
