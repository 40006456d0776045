// @vitest-environment happy-dom
import { act, renderHook, waitFor } from '@testing-library/react'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ApiError, UNREACHED } from '../api/client'
import { type Kept, useAutosave } from './useAutosave'
import '../testing/patience'

type Words = { words: string }
const refusal = (status: number) => new ApiError({ ...UNREACHED, status, type: 'tinknot:x' })

/** A place to keep what is typed, that outlives the page. */
function shelf(): Kept<Words> & { held: { typed: Words; version: number | null } | null } {
  const place = {
    held: null as { typed: Words; version: number | null } | null,
    read: () => place.held,
    write: (typed: Words, version: number | null) => {
      place.held = { typed, version }
    },
    drop: () => {
      place.held = null
    },
  }
  return place
}

type Send = (typed: Words, version: number) => Promise<number>
function use(kept: Kept<Words>, send: Send, version: number | undefined = 1, known = true) {
  const since = (now: Words, sent: Words) => (now === sent ? null : now)
  return renderHook(({ v }) => useAutosave<Words>({ kept, version: v, send, since, pause: 20 }), {
    initialProps: { v: known ? version : undefined },
  })
}
const type = (hook: ReturnType<typeof use>, words: string) =>
  act(() => hook.result.current.edit(() => ({ words })))

describe('what is typed', () => {
  let kept: ReturnType<typeof shelf>
  beforeEach(() => {
    kept = shelf()
  })

  it('is kept at once and saved after a pause, on the version it was typed into', async () => {
    const send = vi.fn(async (_: Words, version: number) => version + 1)
    const hook = use(kept, send, 4)
    type(hook, 'a')
    type(hook, 'ab')
    expect(kept.held).toEqual({ typed: { words: 'ab' }, version: 4 })
    await waitFor(() => expect(hook.result.current.saving).toBe('saved'))
    expect(send.mock.calls).toEqual([[{ words: 'ab' }, 4]])
    expect(kept.held).toBeNull()
    type(hook, 'c')
    await waitFor(() => expect(send).toHaveBeenLastCalledWith({ words: 'c' }, 5))
  })

  it('before the server’s version is known is saved as soon as it is', async () => {
    const send = vi.fn(async (_: Words, version: number) => version + 1)
    const hook = use(kept, send, 0, false)
    type(hook, 'early')
    await act(() => new Promise((done) => setTimeout(done, 60)))
    expect(send).not.toHaveBeenCalled()
    hook.rerender({ v: 0 })
    await waitFor(() => expect(send.mock.calls).toEqual([[{ words: 'early' }, 0]]))
  })

  it('refused is not sent again until a hand changes it', async () => {
    const send = vi.fn(async () => {
      throw refusal(422)
    })
    const hook = use(kept, send)
    type(hook, 'a')
    await waitFor(() => expect(hook.result.current.saving).toBe('refused'))
    await act(() => new Promise((done) => setTimeout(done, 120)))
    expect(send).toHaveBeenCalledTimes(1)
    expect(hook.result.current.error?.problem.status).toBe(422)
    expect(kept.held?.typed).toEqual({ words: 'a' })
    type(hook, 'b')
    await waitFor(() => expect(send).toHaveBeenCalledTimes(2))
  })

  it('that somebody else overtook waits until it is laid over theirs', async () => {
    const send = vi.fn(async (_: Words, version: number) => {
      if (version < 7) throw refusal(409)
      return 8
    })
    const hook = use(kept, send, 3)
    type(hook, 'mine')
    await waitFor(() => expect(hook.result.current.saving).toBe('conflict'))
    type(hook, 'mine, more')
    expect(hook.result.current.saving).toBe('conflict')
    act(() => hook.result.current.over(7))
    await waitFor(() => expect(hook.result.current.saving).toBe('saved'))
    expect(send).toHaveBeenLastCalledWith({ words: 'mine, more' }, 7)
  })

  it('after a reload is sent on the version that it was typed into, not on the newest', async () => {
    kept.write({ words: 'before' }, 2)
    const send = vi.fn(async (_: Words, version: number) => version + 1)
    use(kept, send, 9)
    await waitFor(() => expect(send).toHaveBeenCalledWith({ words: 'before' }, 2))
  })

  it('typed into a version 0 is no less guarded than any other', async () => {
    kept.write({ words: 'before' }, 0)
    const send = vi.fn(async () => {
      throw refusal(409)
    })
    const hook = use(kept, send, 1)
    await waitFor(() => expect(hook.result.current.saving).toBe('conflict'))
    expect(send).toHaveBeenCalledWith({ words: 'before' }, 0)
  })

  it('is all sent when it must be settled, also what is typed while it is being sent', async () => {
    let open: () => void = () => undefined
    const send = vi.fn(async (_: Words, version: number) => {
      if (version === 1) await new Promise<void>((done) => (open = done))
      return version + 1
    })
    const hook = use(kept, send)
    type(hook, 'a')
    await waitFor(() => expect(hook.result.current.saving).toBe('saving'))
    type(hook, 'b')
    let settled = 0
    await act(async () => {
      const asked = hook.result.current.settle()
      open()
      settled = await asked
    })
    expect(settled).toBe(3)
    expect(send.mock.calls.map(([t]) => t.words)).toEqual(['a', 'b'])
  })

  it('is let go of without a trace', async () => {
    const send = vi.fn(async () => {
      throw refusal(0)
    })
    const hook = use(kept, send)
    type(hook, 'a')
    await waitFor(() => expect(hook.result.current.saving).toBe('offline'))
    act(() => hook.result.current.drop())
    expect([hook.result.current.typed, hook.result.current.error, kept.held]).toEqual([null, null, null])
    expect(hook.result.current.saving).toBe('saved')
  })
})
