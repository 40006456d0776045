// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { newBrowser } from '../testing/site'
import {
  drop,
  forgetAnswers,
  keep,
  keepAnswer,
  onNoRoom,
  recall,
  recallAnswer,
  recallWord,
  sweep,
} from './device'

beforeEach(newBrowser)

describe('what was typed', () => {
  it('is kept, found again and dropped', () => {
    expect(keep('draft:J-1', { title: 'x' })).toBe(true)
    expect(recall('draft:J-1')).toEqual({ title: 'x' })
    drop('draft:J-1')
    expect(recall('draft:J-1')).toBeUndefined()
  })

  it('of earlier versions is found as they kept it', () => {
    localStorage.setItem('draft:J-1', '{"title":"old"}')
    localStorage.setItem('theme', 'tin-sun')
    localStorage.setItem('sequence', '41')
    expect(recall('draft:J-1')).toEqual({ title: 'old' })
    expect(recallWord('theme')).toBe('tin-sun')
    expect(recallWord('sequence')).toBe('41')
    keep('sequence', 42)
    expect(recallWord('sequence')).toBe('42')
  })

  it('that is damaged is as if it were not there', () => {
    localStorage.setItem('draft:J-1', '{"title": "cut o')
    expect(recall('draft:J-1')).toBeUndefined()
    expect(localStorage.getItem('draft:J-1')).toBeNull()
  })

  it('makes room for itself, and says when there is none', () => {
    keep('typed:J-1', 1)
    keep('draft:J-2', 'stays')
    const told = vi.fn()
    onNoRoom(told)
    const full = () => {
      throw new DOMException('full', 'QuotaExceededError')
    }
    const real = localStorage
    let times = 1
    vi.stubGlobal(
      'localStorage',
      new Proxy(real, {
        get: (of, name) => {
          if (name === 'setItem' && times-- > 0) return full
          const found = Reflect.get(of, name)
          return typeof found === 'function' ? found.bind(of) : found
        },
      }),
    )
    expect(keep('draft:J-1', { title: 'x' })).toBe(true)
    expect(recall('typed:J-1')).toBeUndefined()
    expect(recall('draft:J-2')).toBe('stays')
    expect(told).not.toHaveBeenCalled()
    times = 9
    expect(keep('draft:J-1', { title: 'y' })).toBe(false)
    expect(told).toHaveBeenCalledOnce()
  })
})

describe('what the server answered', () => {
  it('is there without it, for this person only', async () => {
    await keepAnswer('work:J-1', { number: 1 })
    expect(await recallAnswer('work:J-1')).toEqual({ number: 1 })
    await forgetAnswers()
    expect(await recallAnswer('work:J-1')).toBeUndefined()
  })

  it('goes when it was not looked at for a month, readings typed then too; drafts stay', async () => {
    const now = Date.now()
    const clock = vi.spyOn(Date, 'now').mockReturnValue(now - 40 * 24 * 3_600_000)
    await keepAnswer('work:old', 1)
    keep('typed:old', 1)
    keep('draft:old', { title: 'not sent' })
    clock.mockReturnValue(now)
    await keepAnswer('work:new', 2)
    await sweep()
    clock.mockRestore()
    expect(await recallAnswer('work:old')).toBeUndefined()
    expect(await recallAnswer('work:new')).toBe(2)
    expect(recall('typed:old')).toBeUndefined()
    expect(recall('draft:old')).toEqual({ title: 'not sent' })
  })

  it('that cannot be kept is done without', async () => {
    vi.stubGlobal('indexedDB', {
      open: () => {
        throw new DOMException('damaged', 'UnknownError')
      },
    })
    await keepAnswer('work:J-1', 1)
    expect(await recallAnswer('work:J-1')).toBeUndefined()
  })
})
