// @vitest-environment happy-dom
import { fireEvent, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Schemas } from '../../api/client'
import { newBrowser, problem, RUNA, Site, settled, show } from '../../testing/site'
import { Board } from './Board'

const joint = (ref: string, more: object = {}) =>
  ({
    ref,
    title: `Feeder ${ref}`,
    where: '',
    state: 'planned',
    limits: '',
    late: '',
    share: 0,
    unreadable: '',
    ...more,
  }) as Schemas['Named']
const knot = (at_m: number, joints: Schemas['Named'][], more = 0, line_id = 1) => ({
  line_id,
  at_m,
  joints,
  more,
})
const none = { items: [], more: 0 }
const board = (knots: Schemas['KnotOut'][], more: object = {}): Schemas['Board'] => ({
  lines: [
    { id: 1, name: 'Feeder', length_m: 1000, order: 0 },
    { id: 2, name: 'Lamps', length_m: 1000, order: 1 },
  ],
  zones: [],
  far_m: 1000,
  states: [{ state: 'planned', count: knots.reduce((n, k) => n + k.joints.length + k.more, 0) }],
  knots,
  loose: none,
  limited: none,
  late: none,
  unreadable: none,
  today: [],
  waiting: 0,
  minutes: 0,
  loops: [],
  ...more,
})
const ONE = board([knot(100, [joint('J-1')])])
const waits = (ref: string) =>
  ({ ref, title: '', where: 'Niche', state: 'planned', minutes: 9, next: 'Isolate' }) as Schemas['Today']

beforeEach(() => {
  newBrowser()
  HTMLDialogElement.prototype.showModal ??= function showModal() {
    this.open = true
  }
})

async function shown(found: object, answers = {}) {
  const site = new Site({ 'GET /board': { body: found }, ...answers })
  await show(<Board />)
  return site
}
const knots = () => [...document.querySelectorAll<HTMLElement>('[data-knot]')]

describe('the board', () => {
  it('shows a joint that cannot be read as that, and the others as they are', async () => {
    const why = 'This plan was written by a newer Tin Knot (format 99); upgrade the application.'
    const lost = joint('J-2', { state: 'released', unreadable: why })
    await shown(
      board([knot(100, [joint('J-1')]), knot(600, [lost])], {
        unreadable: { items: [lost], more: 0 },
        states: [
          { state: 'planned', count: 1 },
          { state: 'cannot be read', count: 1 },
        ],
      }),
    )
    expect(screen.getByRole('region', { name: 'Joints that cannot be read' }).textContent).toContain(why)
    expect(screen.getByText('One joint cannot be read')).toBeTruthy()
    expect(knots().map((k) => k.getAttribute('aria-label'))).toEqual([
      'J-1, Feeder J-1, planned',
      'J-2, Feeder J-2, cannot be read',
    ])
    expect(screen.getByRole('heading', { level: 1, name: /Lines/ }).textContent).toContain(
      '2 joints · 1 planned · 1 cannot be read',
    )
  })

  it('says nothing of the kind where all can be read', async () => {
    await shown(ONE)
    expect(screen.queryByRole('region', { name: 'Joints that cannot be read' })).toBeNull()
  })

  it('says how many more lie at a knot', async () => {
    await shown(board([knot(100, [joint('J-1'), joint('J-2')], 1), knot(900, [joint('J-4')])]))
    expect(knots().map((k) => k.getAttribute('href'))).toEqual(['/joints/J-1', '/joints/J-2', '/joints/J-4'])
    expect(screen.getByText('and 1 more')).toBeTruthy()
  })

  it('shows what waits first, and all of it when asked', async () => {
    await shown(board([knot(100, [joint('J-1')])], { today: [waits('J-1')], waiting: 3, minutes: 27 }), {
      'GET /today': { body: { items: ['J-1', 'J-2', 'J-3'].map(waits) } },
    })
    expect(screen.getByText('27 min of work')).toBeTruthy()
    expect(screen.queryByText('J-3')).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'Show 2 more' }))
    await settled()
    expect(screen.getByText('J-3')).toBeTruthy()
    expect(screen.queryByRole('button', { name: /Show/ })).toBeNull()
  })

  it('points to the register for what is not listed', async () => {
    const limited = { items: [joint('J-7', { limits: 'no pull' })], more: 40 }
    await shown(board([], { limited, states: [{ state: 'released with a limit', count: 41 }] }))
    expect(screen.getByRole('region', { name: 'Released with a limit' }).textContent).toContain(
      'no pulland 40 more, in the register',
    )
  })

  it('is walked through by keys, along a line and between lines', async () => {
    await shown(
      board([knot(100, [joint('J-1')]), knot(600, [joint('J-2')]), knot(100, [joint('J-3')], 0, 2)]),
    )
    const go = (key: string) => fireEvent.keyDown(document.activeElement ?? document.body, { key })
    knots()[0]?.focus()
    const at = () => document.activeElement?.getAttribute('aria-label')?.slice(0, 3)
    const walked = ['ArrowRight', 'ArrowDown', 'ArrowUp', 'ArrowLeft'].map((key) => {
      go(key)
      return at()
    })
    expect(walked).toEqual(['J-2', 'J-3', 'J-2', 'J-1'])
  })

  it('invites to the first joint where there is none', async () => {
    await shown(board([], { states: [] }))
    expect(screen.getByText('The bench is empty')).toBeTruthy()
  })

  it('tells what keeps it from showing', async () => {
    new Site({ 'GET /board': problem(503, 'Somebody else is writing') })
    await show(<Board />)
    expect(screen.getByRole('alert').textContent).toContain('Somebody else is writing')
  })

  it('leaves making joints to those who may', async () => {
    await shown(ONE, { 'GET /session': { body: { ...RUNA, role: 'viewer' } } })
    expect(screen.queryByText('New joint')).toBeNull()
  })
})

describe('a new joint', () => {
  it('is made once, with its line, however often the button is pressed while it is on its way', async () => {
    const site = await shown(ONE, {
      'POST /joints': async () => {
        await new Promise((done) => setTimeout(done, 20))
        return { status: 201, body: { ref: 'J-9' } }
      },
    })
    await userEvent.click(screen.getByRole('button', { name: 'New joint' }))
    await userEvent.type(screen.getByLabelText('What it is'), 'Lamp')
    fireEvent.change(screen.getByLabelText('Cable line'), { target: { value: '1' } })
    const form = screen.getByRole('button', { name: 'Make it', hidden: true }).closest('form')
    if (form) for (let i = 0; i < 3; i++) fireEvent.submit(form)
    await settled(80)
    const asked = site.at('POST', '/joints')
    expect(asked[0]?.body).toMatchObject({ title: 'Lamp', line_id: 1, ref: null })
    expect(new Set(asked.map((a) => a.headers.get('Idempotency-Key'))).size).toBe(1)
  })

  it('keeps what was typed when the server says no, and says it at the field', async () => {
    await shown(ONE, {
      'POST /joints': problem(422, 'must be letters, figures, dots', '/ref'),
    })
    await userEvent.click(screen.getByRole('button', { name: 'New joint' }))
    await userEvent.type(screen.getByLabelText('What it is'), 'Lamp')
    await userEvent.type(screen.getByLabelText('Reference'), 'a b')
    await userEvent.click(screen.getByRole('button', { name: 'Make it', hidden: true }))
    await settled()
    expect(screen.getByLabelText<HTMLInputElement>('Reference').value).toBe('a b')
    expect(screen.getByText('must be letters, figures, dots')).toBeTruthy()
  })
})
