// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import { newBrowser, problem, Site } from '../testing/site'
import { ApiError, api, putPicture, setToken, take } from './client'

const LINE = { name: 'Feeder', length_m: 900 }
const makeLine = (body = LINE) => take(api.POST('/api/v1/lines', { body }))
const keys = (site: Site, path: string) =>
  site.at('POST', path).map((a) => a.headers.get('Idempotency-Key') ?? '')

beforeEach(newBrowser)

describe('an answer', () => {
  it('gives its data', async () => {
    new Site({ 'GET /lines': { body: { items: [] } } })
    expect(await take(api.GET('/api/v1/lines'))).toEqual({ items: [] })
  })

  it('that is a problem is thrown, with the words at each field', async () => {
    new Site({ 'POST /lines': problem(422, 'must be more than 0', '/length_m') })
    const fault = await makeLine().catch((e: ApiError) => e)
    expect(fault).toBeInstanceOf(ApiError)
    expect((fault as ApiError).at('/length_m')?.message).toBe('must be more than 0')
    expect((fault as ApiError).at('/name')).toBeUndefined()
    expect((fault as ApiError).offline).toBe(false)
  })

  it('that never came is told as no connection', async () => {
    new Site({ 'GET /lines': 'no connection' })
    const fault = (await take(api.GET('/api/v1/lines')).catch((e: ApiError) => e)) as ApiError
    expect(fault.offline).toBe(true)
    expect(fault.problem.title).toBe('No connection')
  })

  it('that is no problem of ours still has words', async () => {
    new Site({ 'GET /lines': { status: 502, body: 'gateway' } })
    const fault = (await take(api.GET('/api/v1/lines')).catch((e: ApiError) => e)) as ApiError
    expect(fault.problem.status).toBe(502)
    expect(fault.problem.title).toBe('Refused')
  })
})

describe('a request that makes something', () => {
  it('carries the session’s token and a key of its own', async () => {
    const site = new Site({ 'POST /lines': { status: 201, body: {} } })
    setToken('secret')
    await makeLine()
    await makeLine()
    expect(site.asked[0]?.headers.get('X-CSRF-Token')).toBe('secret')
    const [first, second] = keys(site, '/lines')
    expect(first).toMatch(/^[0-9a-f-]{36}$/)
    expect(second).not.toBe(first) // it was answered, so this is a new wish
  })

  it('keeps its key while nobody knows what became of it', async () => {
    let answer: Parameters<typeof problem>[0] | 'no connection' = 'no connection'
    const site = new Site({
      'POST /lines': () =>
        answer === 'no connection'
          ? answer
          : answer === 201
            ? { status: 201, body: {} }
            : problem(answer, 'x'),
    })
    await makeLine().catch(() => null)
    answer = 503
    await makeLine().catch(() => null)
    answer = 201
    await makeLine()
    await makeLine()
    const [a, b, c, d] = keys(site, '/lines')
    expect([b, c]).toEqual([a, a])
    expect(d).not.toBe(a)
  })

  it('asked twice at once has one key, and another wish another', async () => {
    const site = new Site({ 'POST /lines': { status: 201, body: {} } })
    await Promise.all([makeLine(), makeLine(), makeLine({ ...LINE, name: 'Other' })])
    const [a, b, c] = keys(site, '/lines')
    expect(b).toBe(a)
    expect(c).not.toBe(a)
  })

  it('gets a new key once it was refused', async () => {
    const site = new Site({ 'POST /lines': problem(422, 'x', '/name') })
    await makeLine().catch(() => null)
    await makeLine().catch(() => null)
    const [a, b] = keys(site, '/lines')
    expect(b).not.toBe(a)
  })

  it('that only looks, signs in or has an id of its own carries none', async () => {
    const site = new Site({
      'POST /fit': { body: {} },
      'POST /session': { body: {} },
      'POST /joints/J-1/events': { status: 201, body: {} },
    })
    await take(api.POST('/api/v1/fit', { body: { pass_od_mm: 1, seal_od_mm: 1 } }))
    await take(api.POST('/api/v1/session', { body: { username: 'x', password: 'y' } }))
    const event = { id: crypto.randomUUID(), kind: 'note', revision: 1, client_time: 'x' } as const
    await take(api.POST('/api/v1/joints/{ref}/events', { params: { path: { ref: 'J-1' } }, body: event }))
    expect(site.asked.filter((a) => a.headers.has('Idempotency-Key'))).toEqual([])
  })
})

describe('a picture', () => {
  it('goes as bytes of its kind', async () => {
    const site = new Site({ 'PUT /photos/abc': { status: 204 } })
    await putPicture('abc', new Blob(['jpeg'], { type: 'image/jpeg' }))
    expect(site.asked[0]?.headers.get('Content-Type')).toBe('image/jpeg')
    expect(site.asked[0]?.body).toBe('jpeg')
  })

  it('that is refused is told', async () => {
    new Site({ 'PUT /photos/abc': problem(422, 'is no picture') })
    await expect(putPicture('abc', new Blob(['x']))).rejects.toThrow('is no picture')
  })
})
