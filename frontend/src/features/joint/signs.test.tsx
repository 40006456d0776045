// @vitest-environment happy-dom

import { cleanup, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '../../api/client'
import type { useOutbox } from '../../components/outbox'
import type { Outgoing } from '../../model/outbox'
import { aState } from '../../testing/plan'
import { newBrowser, RUNA, Site, show } from '../../testing/site'
import { SaveSign } from './SaveSign'
import { Sign } from './Sign'
import { STATIONS, stationStates } from './stations'
import { Flags } from './steps/Flags'
import type { useJoint } from './useJoint'
import type { Work } from './useWork'

const NO_OUTBOX = {
  items: [],
  here: [],
  lately: [],
  refused: [],
  words: '',
  add: vi.fn(),
  forget: vi.fn(),
} as unknown as ReturnType<typeof useOutbox>
const step = (id: string, more: object = {}) =>
  ({
    id,
    title: id,
    kind: 'join',
    station: 'build',
    needs: [],
    hold: null,
    gates: [],
    ...more,
  }) as unknown as Schemas['StepOut']
const state = (id: string, now: string, more: Partial<Schemas['StepState']> = {}) =>
  aState({ id, state: now, at: '2026-02-03T08:00:00Z', ...more })

function workOf(more: object = {}): Work {
  return {
    ref: 'J-1',
    number: 1,
    plan: {
      steps: [
        step('join'),
        step('released', { hold: 'released', kind: 'sign', station: 'sign', title: 'Released' }),
      ],
    },
    progress: { limits: '', flags: [], steps: [], since_hold: [] },
    judgement: { verdict: 'release', reasons: [], limits: [], proofs: [], notes: [], faults: [] },
    against: [],
    altered: '',
    workers: [],
    instruments: [],
    builds: {},
    trends: [],
    measured: [],
    events: [],
    departures: [],
    ...more,
  } as unknown as Work
}

beforeEach(newBrowser)

describe('the release', () => {
  const built = [state('join', 'done', { actor: 'Runa' }), state('released', 'open')]
  async function sign(work: Work) {
    new Site({
      'GET /session': { body: { ...RUNA, name: 'Eskil', username: 'eskil', role: 'verifier' } },
      'GET /joints/J-1/verdict': { body: { intact: true, signed: false, words: 'Unaltered.', head: 'abc' } },
    })
    const add = vi.fn()
    await show(<Sign work={work} states={built} outbox={{ ...NO_OUTBOX, add }} labels={{ A: '', B: '' }} />)
    return { add, button: screen.getByRole<HTMLButtonElement>('button', { name: /I have read the record/ }) }
  }

  it('is one touch for a verifier when everything stands', async () => {
    const { add, button } = await sign(workOf())
    await userEvent.click(button)
    expect(add.mock.calls[0]?.[0]).toMatchObject([
      { ref: 'J-1', event: { kind: 'done', step: 'released', revision: 1 } },
    ])
  })

  it('is stopped by everything that stands against it, and leads to the work and to planning again', async () => {
    const words = 'End A, sheath OD: planned with 26.2 mm, now 61.7 mm'
    const { button } = await sign(workOf({ against: [words, 'Open: a gap at end A (Runa).'] }))
    expect(button.disabled).toBe(true)
    const told = screen.getByRole('region', { name: 'What stands against the release' })
    expect(told.textContent).toContain(words)
    expect(told.textContent).toContain('a gap at end A')
    expect(screen.queryByText('May be released')).toBeNull()
    const leads = within(told)
      .getAllByRole('link')
      .map((a) => a.getAttribute('href'))
    expect(leads).toEqual(['/joints/J-1/build', '/joints/J-1/choose'])
  })

  it('is not told before the server has taken it', async () => {
    const signed = [state('join', 'done', { actor: 'Runa' }), state('released', 'done', { actor: 'Eskil' })]
    const waits = { ...NO_OUTBOX, here: [{ event: { step: 'released' } } as unknown as Outgoing] }
    new Site({
      'GET /session': { body: { ...RUNA, role: 'verifier' } },
      'GET /joints/J-1/verdict': { body: { intact: true, signed: false, words: 'Unaltered.', head: 'abc' } },
    })
    const page = (outbox: typeof NO_OUTBOX) => (
      <Sign work={workOf()} states={signed} outbox={outbox} labels={{ A: '', B: '' }} />
    )
    await show(page(waits))
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Signed here')
    cleanup()
    await show(page(NO_OUTBOX))
    expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Released')
  })

  it('of a page kept by an earlier version knows of no change', async () => {
    const { button } = await sign(workOf({ against: undefined }))
    expect(button.disabled).toBe(false)
  })
})

describe('what was kept and does not count', () => {
  const flag = (why: string) => ({ event: 'e1', step: 'join', why })
  const event = { id: 'e1', kind: 'done', step: 'join', values: { distance: 44 } }

  it('is told with its step, and settled by whoever may', async () => {
    new Site()
    const send = vi.fn()
    const work = workOf({
      progress: { flags: [flag('It is dated before its plan was made')] },
      events: [event],
    })
    await show(<Flags work={work} outbox={NO_OUTBOX} send={send} works />)
    expect(screen.getByText(/dated before its plan/)).toBeTruthy()
    expect(screen.queryByText('Take this reading')).toBeNull()
    await userEvent.click(screen.getByText('Seen, leave it'))
    expect(send).toHaveBeenCalledWith('settled', { step: 'join', about: 'e1' })
  })

  it('told after the release it is settled by a verifier only', async () => {
    new Site({ 'GET /session': { body: RUNA } })
    const late = { ...flag('Runa, before the release, sent after it: a fault was seen: gap'), late: true }
    const work = workOf({ progress: { flags: [late] } })
    await show(<Flags work={work} outbox={NO_OUTBOX} send={vi.fn()} works />)
    expect(screen.getByText(/a fault was seen: gap/)).toBeTruthy()
    expect(screen.queryByText('Seen, leave it')).toBeNull()
  })

  it('confirmed twice with another figure may take that figure', async () => {
    new Site()
    const send = vi.fn()
    const work = workOf({
      progress: { flags: [{ ...flag('Confirmed already by Eskil'), second: true }] },
      events: [event],
    })
    await show(<Flags work={work} outbox={NO_OUTBOX} send={send} works />)
    await userEvent.click(screen.getByText('Take this reading'))
    expect(send.mock.calls.map((c) => c[0])).toEqual(['reading', 'settled'])
    expect(send.mock.calls[0]?.[1]).toMatchObject({ values: { distance: 44 } })
  })

  it('shows what the server would not take until it was seen', async () => {
    new Site()
    const forget = vi.fn()
    const refused = [{ key: 7, why: 'used before', event: { step: 'join' } }]
    const outbox = { ...NO_OUTBOX, refused, forget } as unknown as ReturnType<typeof useOutbox>
    await show(<Flags work={workOf()} outbox={outbox} send={vi.fn()} works={false} />)
    await userEvent.click(screen.getByRole('button', { name: 'Seen' }))
    expect(forget).toHaveBeenCalledWith(7)
  })

  it('says nothing while there is nothing to say', async () => {
    new Site()
    const shown = await show(<Flags work={workOf()} outbox={NO_OUTBOX} send={vi.fn()} works />)
    expect(shown.container.innerHTML).toBe('')
  })
})

describe('whether what was typed is safe', () => {
  const sign = (saving: string, more: object = {}) =>
    show(<SaveSign joint={{ saving, error: null, ...more } as unknown as ReturnType<typeof useJoint>} />)

  it.each([
    ['waiting', 'saving …'],
    ['saving', 'saving …'],
    ['offline', 'kept here, sent when the server is back'],
  ])('%s: %s', async (saving, words) => {
    new Site()
    await sign(saving)
    expect(screen.getByRole('status').textContent).toContain(words)
  })

  it('a conflict has two ways out', async () => {
    new Site()
    const [keepMine, takeTheirs] = [vi.fn(), vi.fn()]
    await sign('conflict', { keepMine, takeTheirs })
    await userEvent.click(screen.getByText('Keep what I typed'))
    await userEvent.click(screen.getByText('Take theirs'))
    expect([keepMine.mock.calls.length, takeTheirs.mock.calls.length]).toEqual([1, 1])
  })

  it('a refusal says why', async () => {
    new Site()
    await sign('refused', { error: { problem: { detail: 'J-1 is released' } } })
    expect(screen.getByRole('alert').textContent).toBe('not saved: J-1 is released')
  })
})

describe('the stations', () => {
  const joint = (more: object = {}) =>
    ({ missing: [], revision: 0, ...more }) as unknown as Schemas['JointOut']
  const of = (found: ReturnType<typeof stationStates>, id: string) => found.find((s) => s.id === id)

  it('say what is missing before anything is planned', () => {
    const missing = [{ path: '/card/where', message: 'say where the joint is' }]
    const found = stationStates(joint({ missing }), undefined, [])
    expect(of(found, 'card')).toMatchObject({ state: 'open', words: 'say where the joint is' })
    expect(of(found, 'measure')).toMatchObject({ state: 'done' })
    expect(of(found, 'choose')).toMatchObject({ state: 'locked', words: 'say where the joint is' })
    expect(of(found, 'build')).toMatchObject({ state: 'locked', words: 'not planned yet' })
    expect(found.map((s) => s.id)).toEqual(STATIONS.map((s) => s.id))
  })

  it('open when all is measured, and say the revision once it is planned', () => {
    expect(of(stationStates(joint(), undefined, []), 'choose')).toMatchObject({ state: 'open' })
    expect(of(stationStates(joint({ revision: 2 }), undefined, []), 'choose')).toMatchObject({
      words: 'planned, revision 2',
    })
  })

  it('count what is left and name what comes first', () => {
    const plan = {
      steps: [step('cut', { station: 'cut', title: 'Cut the sheath' }), step('join')],
    } as unknown as Schemas['Plan']
    const found = stationStates(joint({ revision: 1 }), plan, [state('cut', 'open'), state('join', 'locked')])
    expect(of(found, 'cut')).toMatchObject({ state: 'open', words: '1 steps left' })
    expect(of(found, 'build')).toMatchObject({ state: 'locked', words: 'first: Cut the sheath' })
    expect(of(found, 'sign')).toMatchObject({ state: 'done' })
  })
})
