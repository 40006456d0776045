// @vitest-environment happy-dom
import { openDB } from 'idb'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { newBrowser } from '../testing/site'
import type { Outgoing } from './outbox'

type Box = typeof import('./outbox')
let box: Box

const item = (owner: string, id: string): Outgoing => ({
  owner,
  actor: owner,
  ref: 'J-1',
  event: { id, kind: 'note', revision: 1, client_time: '2026-02-03T08:00:00Z' },
})
const ids = (items: Outgoing[]) => items.map((i) => i.event.id)

/** The page is opened anew: the same browser, nothing remembered. */
async function reload(): Promise<void> {
  vi.resetModules()
  box = await import('./outbox')
}

beforeEach(async () => {
  newBrowser()
  await reload()
})

describe('the outbox', () => {
  it('keeps items in their order, across a reload', async () => {
    await box.put([item('runa', '1'), item('runa', '2')])
    await box.put([item('runa', '3')])
    await reload()
    expect(ids(await box.waiting('runa'))).toEqual(['1', '2', '3'])
  })

  it('has a box for each person', async () => {
    await box.put([item('runa', '1')])
    await box.put([item('eskil', '2')])
    expect(ids(await box.waiting('eskil'))).toEqual(['2'])
    const [first] = await box.waiting('runa')
    if (first) await box.settle(first)
    expect(await box.waiting('runa')).toEqual([])
    expect(ids(await box.waiting('eskil'))).toEqual(['2'])
  })

  it('keeps all of a batch or none of it', async () => {
    const broken = { ...item('runa', '2'), event: { bad: () => 1 } } as unknown as Outgoing
    await expect(box.put([item('runa', '1'), broken])).rejects.toThrow()
    expect(await box.waiting('runa')).toEqual([])
  })

  it('keeps the picture an event speaks of', async () => {
    await box.put([{ ...item('runa', '1'), picture: new Blob(['x'], { type: 'image/jpeg' }) }])
    const [kept] = await box.waiting('runa')
    expect(kept?.picture).toBeDefined()
  })

  it('remembers what was sent lately, no more than it must', async () => {
    for (let i = 0; i < 70; i++) await box.settle(item('runa', String(i)))
    expect(box.lately()).toHaveLength(60)
    expect(box.lately().at(-1)?.event.id).toBe('69')
  })

  it('sets a refused one aside in one go, until somebody has seen it', async () => {
    await box.put([item('runa', '1'), item('runa', '2')])
    const [first] = await box.waiting('runa')
    if (first) await box.refuse(first, 'no such step')
    expect(ids(await box.waiting('runa'))).toEqual(['2'])
    await reload()
    const [set] = await box.refused('runa')
    expect(set).toMatchObject({ why: 'no such step', event: { id: '1' } })
    expect(await box.refused('eskil')).toEqual([])
    await box.forget(set?.key ?? -1)
    expect(await box.refused('runa')).toEqual([])
  })

  it('tells whoever listens, and nobody who has left', async () => {
    const told = vi.fn()
    const leave = box.onOutbox(told)
    await box.put([item('runa', '1')])
    expect(told).toHaveBeenCalledTimes(1)
    leave()
    await box.put([item('runa', '2')])
    expect(told).toHaveBeenCalledTimes(1)
  })

  it('opens what the first version kept', async () => {
    const old = await openDB('tinknot', 1, {
      upgrade: (db) =>
        db.createObjectStore('outbox', { keyPath: 'key', autoIncrement: true }).createIndex('owner', 'owner'),
    })
    await old.add('outbox', item('runa', 'old'))
    old.close()
    expect(ids(await box.waiting('runa'))).toEqual(['old'])
    await box.refuse(item('runa', 'x'), 'why')
    expect(await box.refused('runa')).toHaveLength(1)
  })
})
