// @vitest-environment happy-dom
import { act, waitFor } from '@testing-library/react'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import { forget, put, refused, settle, waiting } from '../model/outbox'
import {
  type Answer,
  type Asked,
  hook,
  newBrowser,
  newClient,
  problem,
  RUNA,
  Site,
  settled,
} from '../testing/site'
import { useOutbox } from './outbox'

const EVENTS = 'POST /joints/J-1/events'
const NOW = '2026-02-03T08:00:00Z'

function taken(asked: Asked, more: object = {}): Answer {
  return {
    status: 201,
    body: { event: asked.body, counts: true, why: '', now: NOW, progress: { steps: [] }, ...more },
  }
}

const going = (id: string, more: object = {}) => ({
  actor: 'Runa',
  ref: 'J-1',
  event: { id, kind: 'done', step: 's', revision: 1, client_time: NOW } as Schemas['EventIn'],
  ...more,
})
const sent = (site: Site) => site.at('POST', '/joints/J-1/events').map((a) => (a.body as { id: string }).id)

beforeEach(async () => {
  newBrowser()
  for (const owner of [RUNA.username, 'eskil']) {
    for (const item of await waiting(owner)) await settle(item)
    for (const item of await refused(owner)) await forget(item.key ?? -1)
  }
})

const outbox = (ref?: string, client = newClient()) => hook(() => useOutbox(ref), { client })

describe('sending what waits', () => {
  it('sends in order, once each, with the time it was sent', async () => {
    const site = new Site({ [EVENTS]: taken })
    const { result } = await outbox()
    await act(() => result.current.add([going('1'), going('2')]))
    await act(() => result.current.add([going('3')]))
    await waitFor(() => expect(result.current.items).toEqual([]))
    expect(sent(site)).toEqual(['1', '2', '3'])
    expect(site.at('POST', '/joints/J-1/events')[0]?.body).toHaveProperty('sent_time')
    expect(site.asked.some((a) => a.headers.has('Idempotency-Key'))).toBe(false) // an event has its own id
  })

  it('stops at the first that cannot be sent now, and goes on from there', async () => {
    let down = true
    const site = new Site({ [EVENTS]: (a) => (down ? 'no connection' : taken(a)) })
    const { result } = await outbox()
    await act(() => result.current.add([going('1'), going('2')]))
    await settled()
    expect(sent(site)).toEqual(['1'])
    expect(result.current.items.map((i) => i.event.id)).toEqual(['1', '2'])
    down = false
    await act(async () => {
      window.dispatchEvent(new Event('online'))
    })
    await waitFor(() => expect(result.current.items).toEqual([]))
    expect(sent(site)).toEqual(['1', '1', '2'])
  })

  it.each([
    [401, 'tinknot:sign-in'],
    [403, 'tinknot:csrf'],
    [429, 'tinknot:too-often'],
    [500, 'tinknot:fault'],
    [503, 'tinknot:busy'],
    [507, 'tinknot:disk-full'],
  ])('keeps what is answered by %i %s for later', async (status, type) => {
    new Site({ [EVENTS]: problem(status, 'later', undefined, type) })
    const { result } = await outbox()
    await act(() => result.current.add([going('1')]))
    await settled()
    expect(result.current.items).toHaveLength(1)
    expect(result.current.refused).toEqual([])
  })

  it.each([403, 404, 409, 422])(
    'sets aside what is refused by %i, says why, and sends the rest',
    async (status) => {
      const site = new Site({
        [EVENTS]: (a) =>
          (a.body as { id: string }).id === '1' ? problem(status, 'not like this') : taken(a),
      })
      const { result } = await outbox()
      await act(() => result.current.add([going('1'), going('2')]))
      await waitFor(() => expect(result.current.refused).toHaveLength(1))
      expect(result.current.words).toBe('It was not taken: not like this')
      expect(result.current.items).toEqual([])
      expect(sent(site)).toEqual(['1', '2'])
      const key = result.current.refused[0]?.key ?? -1
      await act(() => result.current.forget(key))
      await waitFor(() => expect(result.current.refused).toEqual([]))
      expect(result.current.words).toBe('')
    },
  )

  it('sends nothing any more when somebody else has signed in meanwhile', async () => {
    const client = newClient()
    let calls = 0
    const site = new Site({
      [EVENTS]: (a) => {
        calls += 1
        client.setQueryData(['session'], { ...RUNA, username: 'eskil', mark: '#9' }) // while the first is on its way
        return taken(a)
      },
    })
    client.setQueryData(['session'], RUNA)
    const { result } = await outbox(undefined, client)
    await act(() => result.current.add([going('1'), going('2')]))
    await settled()
    expect(calls).toBe(1)
    expect(sent(site)).toEqual(['1'])
    expect((await waiting(RUNA.username)).map((i) => i.event.id)).toEqual(['2'])
  })

  it('keeps what the server says is somebody else’s, for its own person', async () => {
    new Site({ [EVENTS]: problem(409, 'not yours', undefined, 'tinknot:other-person') })
    const { result } = await outbox()
    await act(() => result.current.add([going('1')]))
    await settled()
    expect((await waiting(RUNA.username)).map((i) => i.event.id)).toEqual(['1'])
    expect(await refused(RUNA.username)).toEqual([])
  })

  it('says what was kept and does not count', async () => {
    new Site({ [EVENTS]: (a) => taken(a, { counts: false, why: 'First: thread everything on' }) })
    const { result } = await outbox()
    await act(() => result.current.add([going('1')]))
    await waitFor(() =>
      expect(result.current.words).toBe('It is noted, but does not count: First: thread everything on'),
    )
    expect(result.current.items).toEqual([])
  })

  it('sends a picture before the event that speaks of it', async () => {
    const site = new Site({ [EVENTS]: taken, 'PUT /photos/abc': { status: 204 } })
    const { result } = await outbox()
    const about = going('1', { picture: new Blob(['x'], { type: 'image/jpeg' }) })
    about.event.photo = 'abc'
    await act(() => result.current.add([about]))
    await waitFor(() => expect(result.current.items).toEqual([]))
    expect(site.asked.map((a) => a.method).filter((m) => m !== 'GET')).toEqual(['PUT', 'POST'])
  })

  it('lays the new progress into the page before the item leaves the box', async () => {
    new Site({ [EVENTS]: (a) => taken(a, { progress: { steps: [{ id: 's', state: 'done' }] } }) })
    const client = newClient()
    client.setQueryData(['work', 'J-1'], { events: [], progress: { steps: [] } })
    const { result } = await outbox('J-1', client)
    const seen: number[] = []
    client.getQueryCache().subscribe(() => seen.push(result.current.items.length))
    await act(() => result.current.add([going('1')]))
    await waitFor(() => expect(result.current.items).toEqual([]))
    expect(client.getQueryData<{ events: unknown[] }>(['work', 'J-1'])?.events).toHaveLength(1)
    expect(seen.length).toBeGreaterThan(0)
  })

  it('shows a page only the items of its joint, and sends nobody else’s', async () => {
    const site = new Site({ [EVENTS]: taken, 'POST /joints/J-2/events': 'no connection' })
    await put([{ ...going('other', { ref: 'J-2' }), owner: RUNA.username }])
    await put([{ ...going('eskils'), owner: 'eskil' }])
    const { result } = await outbox('J-1')
    await settled()
    expect(result.current.items).toEqual([])
    expect(sent(site)).toEqual([])
    expect(site.at('POST', '/joints/J-2/events')).toHaveLength(1)
  })

  it('says at the joint what another part of the page was told when it sent', async () => {
    let open: () => void = () => undefined
    new Site({
      [EVENTS]: async (a) => {
        await new Promise<void>((done) => (open = done))
        return taken(a, { counts: false, why: 'own work' })
      },
    })
    await put([{ ...going('1'), owner: RUNA.username }])
    const header = await outbox()
    await waitFor(() => expect(header.result.current.items).toHaveLength(1))
    const here = await outbox('J-1')
    const other = await outbox('J-2')
    await act(async () => open())
    await waitFor(() => expect(here.result.current.items).toEqual([]))
    expect(here.result.current.words).toBe('It is noted, but does not count: own work')
    expect(other.result.current.words).toBe('')
  })

  it('sends at once what is noted while others are on their way', async () => {
    const open: (() => void)[] = []
    const site = new Site({
      [EVENTS]: async (a) => {
        await new Promise<void>((done) => open.push(done))
        return taken(a)
      },
    })
    const { result } = await outbox()
    await act(async () => void result.current.add([going('1')]))
    await waitFor(() => expect(open).toHaveLength(1))
    await act(async () => void result.current.add([going('2')]))
    await waitFor(() => expect(result.current.items).toHaveLength(2))
    await act(async () => open[0]?.())
    await waitFor(() => expect(open).toHaveLength(2), { timeout: 1000 })
    await act(async () => open[1]?.())
    await waitFor(() => expect(result.current.items).toEqual([]))
    expect(sent(site)).toEqual(['1', '2'])
  })
})
