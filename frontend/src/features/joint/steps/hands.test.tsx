// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import vectors from '../../../../../tests/vectors/working.json'
import type { Schemas } from '../../../api/client'
import type { useOutbox } from '../../../components/outbox'
import type { Outgoing } from '../../../model/device'
import { aState, aStep } from '../../../testing/plan'
import { newBrowser, Site, show } from '../../../testing/site'
import type { Work } from '../useWork'
import { Faults } from './Faults'
import { inVain } from './guards'
import { Mending } from './Mending'
import { PinSign } from './PinSign'
import { StepView } from './StepView'
import { spoken } from './words'
import { builtOf, didWork, isWork } from './work'

type Step = Schemas['StepOut']

beforeEach(() => {
  newBrowser()
  HTMLDialogElement.prototype.showModal ??= function showModal() {
    this.open = true
  }
})

const torque = (id: string): Schemas['GateOut'] => ({
  id,
  label: `terminal ${id}`,
  unit: 'N·m',
  target: 1.4,
  tolerance: 0.2,
  least: null,
  most: null,
  required: true,
  accept: false,
  instrument: 'torque-driver',
  name: '',
  group: '',
  excuse: false,
  possible: null,
})
const step = (id: string, more: Partial<Step> = {}) =>
  aStep({ id, title: id, kind: 'join', layer: 'land', end: 'A', stamp: 's', ...more })
const state = (id: string, now = 'open') => aState({ id, state: now })
const workOf = (steps: Step[], more: object = {}) =>
  ({
    ref: 'J-1',
    number: 1,
    plan: { steps, parts: [], faults: [], section: null },
    progress: {
      faults: [],
      flags: [],
      steps: steps.map((s) => state(s.id)),
      photos: {},
      cures: [],
      attempt: 0,
      since_hold: [],
      done: 0,
    },
    events: [],
    tools: [],
    dials: [],
    instruments: [],
    trends: [],
    measured: [],
    workers: [],
    verifiers: [],
    builds: {},
    again: {},
    free_mends: [
      { words: 'Put right on the spot, nothing lost', kind: 'mended' },
      { words: 'Do this step again', kind: 'again' },
      { words: 'Cut the joint out and start again', kind: 'remake' },
    ],
    pin_key: '',
    ...more,
  }) as unknown as Work
const outboxOf = (here: Outgoing[] = []) =>
  ({
    items: here,
    here,
    lately: [],
    refused: [],
    words: '',
    add: vi.fn(),
    forget: vi.fn(),
  }) as unknown as ReturnType<typeof useOutbox>
const waiting = (owner: string, event: object): Outgoing =>
  ({ owner, actor: owner, ref: 'J-1', event }) as unknown as Outgoing
const LAND = step('land', { title: 'Land the wires', gates: ['1', '2', '3'].map(torque) })
const view = (work: Work, steps: Step[], outbox = outboxOf(), send = vi.fn()) =>
  show(
    <StepView
      steps={steps}
      work={work}
      states={work.progress.steps}
      labels={{ A: '', B: '' }}
      outbox={outbox}
      send={send}
      works
    />,
  )

describe('a step with several readings', () => {
  it('has a field for each in its own unit, and says which are missing', async () => {
    new Site()
    await view(workOf([LAND]), [LAND])
    const fields = screen.getAllByRole('button', { name: /^terminal \d: type it/ })
    expect(fields).toHaveLength(3)
    expect(screen.getAllByText('1.4 N·m ± 0.2 N·m')).toHaveLength(3)
    expect(document.body.textContent).not.toContain('1.4 mm')
    expect(screen.getByText('Still to read: terminal 1, terminal 2, terminal 3.')).toBeTruthy()
    expect(spoken([LAND])).toContain('terminal 2: 1.4 newton metres')
    expect(spoken([LAND])).not.toContain('millimetres')
  })

  it('is confirmed with all of them, and not before', async () => {
    new Site()
    localStorage.setItem('typed:J-1:1:0:land', '{"land":{"1":1.4,"2":{"value":1.5}}}')
    const send = vi.fn()
    const { unmount } = await view(workOf([LAND]), [LAND], outboxOf(), send)
    expect(screen.getByText('Still to read: terminal 3.')).toBeTruthy()
    expect(document.querySelector<HTMLButtonElement>('.btn-huge')?.disabled).toBe(true)
    unmount()
    localStorage.setItem('typed:J-1:1:0:land', '{"land":{"1":1.4,"2":{"value":1.5},"3":1.3}}')
    await view(workOf([LAND]), [LAND], outboxOf(), send)
    await new Promise((done) => setTimeout(done, 400))
    await userEvent.click(document.querySelector('.btn-huge') as Element)
    expect(send.mock.calls[0]?.[1][0].values).toEqual({ 1: 1.4, 2: 1.5, 3: 1.3 })
  })
})

describe('parts that are threaded in one go', () => {
  const parts = ['outer', 'core 1', 'core 2'].map((id, n, all) =>
    step(id, { title: `Thread ${id}`, kind: 'park', batch: 'park', needs: n ? [all[0] as string] : [] }),
  )
  const work = workOf(parts, {
    progress: {
      ...workOf(parts).progress,
      steps: parts.map((s, n) => state(s.id, n ? 'locked' : 'open')),
    },
  })

  it('are confirmed in their order, and none without what goes behind it', async () => {
    new Site()
    const send = vi.fn()
    await view(work, parts, outboxOf(), send)
    expect(screen.queryByText(/^Not yet/)).toBeNull()
    await userEvent.click(screen.getByRole('checkbox', { name: /outer/ }))
    expect(screen.getByText(/^Not yet: Thread core 1; Thread core 2/)).toBeTruthy()
    expect(document.querySelector<HTMLButtonElement>('.btn-huge')?.disabled).toBe(true)
    await userEvent.click(screen.getByRole('checkbox', { name: /outer/ }))
    await userEvent.click(screen.getByRole('checkbox', { name: /core 1/ }))
    await new Promise((done) => setTimeout(done, 400))
    await userEvent.click(document.querySelector('.btn-huge') as HTMLElement)
    expect(send.mock.calls[0]?.[1].map((a: { step: string }) => a.step)).toEqual(['outer', 'core 2'])
  })
})

describe('what did not count', () => {
  const flagged = (lasts: boolean) =>
    workOf([LAND], {
      progress: {
        ...workOf([LAND]).progress,
        flags: [{ event: 'e', step: 'land', why: 'CT-1 was due', lasts }],
      },
      events: [
        {
          id: 'e',
          kind: 'done',
          step: 'land',
          values: { 1: 1.4 },
          tools: { 'crimp-tool': 'CT-1' },
          text: '',
          lot: '',
        },
      ],
    })
  const about = { step: 'land', values: { 1: 1.4 }, tools: { 'crimp-tool': 'CT-1' }, text: '', lot: '' }

  it('cannot be confirmed again just the same', () => {
    expect(inVain(flagged(true), [about])).toBe('CT-1 was due')
    expect(inVain(flagged(true), [{ ...about, tools: { 'crimp-tool': 'CT-2' } }])).toBe('')
    expect(inVain(flagged(true), [{ ...about, values: { 1: 1.5 } }])).toBe('')
  })

  it('for time’s sake can', () => {
    expect(inVain(flagged(false), [about])).toBe('')
  })
})

describe('own work', () => {
  const hold = step('parked', { kind: 'inspect', hold: 'parked', second_person: true })
  const work = workOf([LAND, hold], {
    workers: ['#7'],
    progress: { ...workOf([LAND, hold]).progress, since_hold: ['#2'] },
  })
  const who = (username: string, mark: string) => ({ username, name: username, mark })

  it.each(vectors)('is work, as the core says: $what', ({ kind, about, hold, work }) => {
    expect(isWork(kind, about, hold)).toBe(work)
  })

  it('is known by the number, not by the name', () => {
    expect(didWork(work, hold, who('runa', '#2'), [])).toBe(true)
    expect(didWork(work, hold, who('runa', '#3'), [])).toBe(false)
    expect(didWork(work, { ...hold, hold: 'released' }, who('runa', '#7'), [])).toBe(true)
  })

  it('that waits on this device counts, that before the last hold does not', () => {
    const mine = waiting('eskil', { kind: 'done', step: 'land' })
    const signed = waiting('ylva', { kind: 'done', step: 'parked' })
    expect(didWork(work, hold, who('eskil', '#9'), [mine])).toBe(true)
    expect(didWork(work, hold, who('eskil', '#9'), [mine, signed])).toBe(false)
    expect(didWork(work, { ...hold, hold: 'released' }, who('eskil', '#9'), [mine, signed])).toBe(true)
    const seen = waiting('eskil', { kind: 'fault', step: 'land' })
    expect(didWork(work, hold, who('eskil', '#9'), [seen])).toBe(false)
  })

  it('keeps its owner from signing the hold over it', async () => {
    new Site()
    const people = [
      { username: 'eskil', name: 'Eskil', mark: '#3', barred: true },
      { username: 'ylva', name: 'Ylva', mark: '#4', barred: false },
    ]
    await show(
      <PinSign joint="J-1" step={hold} verifiers={people} pinKey="" done={vi.fn()} close={vi.fn()} />,
    )
    expect(screen.getByText('did part of this work')).toBeTruthy()
    const eskil = screen.getByRole<HTMLButtonElement>('button', { name: /^Eskil/, hidden: true })
    expect(eskil.disabled).toBe(true)
  })

  it('a PIN is sealed to joint, step and event', async () => {
    new Site()
    const pair = await crypto.subtle.generateKey(
      { name: 'RSA-OAEP', hash: 'SHA-256', modulusLength: 2048, publicExponent: new Uint8Array([1, 0, 1]) },
      true,
      ['encrypt', 'decrypt'],
    )
    const spki = new Uint8Array(await crypto.subtle.exportKey('spki', pair.publicKey))
    const done = vi.fn()
    const people = [{ username: 'eskil', name: 'Eskil', mark: '#3', barred: false }]
    await show(
      <PinSign
        joint="J-1"
        step={hold}
        verifiers={people}
        pinKey={btoa(String.fromCharCode(...spki))}
        done={done}
        close={vi.fn()}
      />,
    )
    for (const key of ['4', '0', '7', '1', 'Sign'])
      await userEvent.click(screen.getByRole('button', { name: key, hidden: true }))
    await vi.waitFor(() => expect(done).toHaveBeenCalled())
    const [{ id, signature }] = done.mock.calls[0] as [{ id: string; signature: { sealed_pin: string } }]
    const sealed = Uint8Array.from(atob(signature.sealed_pin), (c) => c.charCodeAt(0))
    const open = (label: string) =>
      crypto.subtle.decrypt(
        { name: 'RSA-OAEP', label: new TextEncoder().encode(label) },
        pair.privateKey,
        sealed,
      )
    expect(new TextDecoder().decode(await open(`J-1\nparked\n${id}`))).toBe('4071')
    await expect(open(`J-1\nparked\nanother`)).rejects.toThrow()
    await expect(open(`J-2\nparked\n${id}`)).rejects.toThrow()
  })
})

describe('faults', () => {
  const batch = ['1', '2'].map((n) => step(`join.${n}`, { title: `Crimp core ${n}`, batch: 'join' }))

  it('of a batch ask which piece it is', async () => {
    new Site()
    const send = vi.fn()
    await show(<Faults work={workOf(batch)} steps={batch} forgotten={false} send={send} close={vi.fn()} />)
    const words = screen.getByLabelText('Something else, in your words')
    expect(words.closest('ul')?.className).toContain('hidden')
    await userEvent.click(screen.getByRole('button', { name: 'Crimp core 2', hidden: true }))
    expect(words.closest('ul')?.className).not.toContain('hidden')
    await userEvent.type(words, 'bent')
    await userEvent.click(screen.getByRole('button', { name: 'Note it and stop here', hidden: true }))
    expect(send).toHaveBeenCalledWith('fault', 'join.2', { text: 'bent', choice: '' })
  })

  it('seen at a look over several are those of what is looked at', async () => {
    new Site()
    const send = vi.fn()
    const look = step('connectors', {
      title: 'Look at every connector',
      kind: 'inspect',
      needs: ['join.1', 'join.2'],
    })
    const joined = batch.map((s, n) => ({ ...s, layer: `crimp-${n + 1}` }))
    const work = workOf([...joined, look])
    const cracked = { id: 'cracked', seen: 'Barrel cracked', causes: [], mends: [], forgotten: false }
    work.plan = {
      ...work.plan,
      faults: joined.map((s) => ({ ...cracked, layer: s.layer, steps: [s.id] })),
    }
    await show(<Faults work={work} steps={[look]} forgotten={false} send={send} close={vi.fn()} />)
    await userEvent.click(screen.getByRole('button', { name: 'Crimp core 2', hidden: true }))
    expect(screen.getByText('Barrel cracked')).toBeTruthy()
    await userEvent.click(screen.getByRole('button', { name: /This is it/, hidden: true }))
    expect(send).toHaveBeenCalledWith('fault', 'join.2', { text: 'Barrel cracked', choice: 'cracked' })
  })

  it('a part that was forgotten is touched on the park list', async () => {
    new Site()
    const send = vi.fn()
    const work = workOf(batch)
    const parked = { layer: 'outer-sleeve', part_id: 's28', track: 'sheath', length_mm: 240, step: 'park.o' }
    const by_end = [
      { end: 'A', parts: [], used_mm: 0, free_mm: 500 },
      { end: 'B', parts: [{ ...parked, title: 'outer sleeve' }], used_mm: 240, free_mm: 500 },
    ]
    const park = { a: [], b: [], used_a_mm: 0, used_b_mm: 240, free_a_mm: 500, free_b_mm: 500 }
    work.plan = {
      ...work.plan,
      park: { ...park, skin: 'sheath', by_end },
      faults: [
        { layer: 'c1', id: 'of-core', seen: 'x', causes: [], mends: [], forgotten: true, steps: [] },
        {
          layer: 'outer-sleeve',
          id: 'not-threaded',
          seen: 'y',
          causes: [],
          mends: [],
          forgotten: true,
          steps: [],
        },
      ],
    }
    await show(<Faults work={work} steps={batch} forgotten send={send} close={vi.fn()} />)
    await userEvent.click(screen.getByRole('button', { name: /outer sleeve.*end B/, hidden: true }))
    expect(send).toHaveBeenCalledWith('fault', 'park.o', {
      text: 'outer sleeve, end B was forgotten',
      choice: 'not-threaded',
    })
  })

  const fault = {
    id: 'f',
    fault: '',
    step: 'join.1',
    layer: 'land',
    seen: 'bent',
    actor: 'Runa',
    at: '',
    reporter: 'runa',
  }
  const mending = (more: object, send = vi.fn()) =>
    show(<Mending work={workOf(batch)} fault={{ ...fault, ...more }} send={send} works />)

  it('are mended by what can be done first, then by what has to be planned, which leads to Choose', async () => {
    const ways = [
      { kind: 'again', words: 'Thread it on now', why_not: 'the cores are joined', planned: false },
      { kind: 'mended', words: 'A wrap-around', why_not: 'this plan still threads it on', planned: true },
      { kind: 'remake', words: 'Cut it out', why_not: '', planned: false },
    ].map((w) => ({ ...w, lost_mm: {}, slack_left_mm: {}, minutes: 0, again: [], reopens: [] }))
    new Site({ 'GET /joints/J-1/faults/f/mends': { body: { items: ways } } })
    const work = workOf(batch)
    work.progress = { ...work.progress, faults: [fault] }
    await show(<Mending work={work} fault={fault} send={vi.fn()} works />)
    expect(await screen.findByText('A wrap-around')).toBeTruthy()
    const shown = screen.getAllByRole('listitem').map((li) => li.textContent)
    expect(shown.map((t) => ways.findIndex((w) => t?.includes(w.words)))).toEqual([1, 2, 0])
    expect(screen.getByText(/^Not yet: this plan still threads it on/)).toBeTruthy()
    expect(screen.getByRole('link', { name: 'To Choose' }).getAttribute('href')).toBe('/joints/J-1/choose')
    expect(screen.getByText(/^Not possible: the cores are joined/)).toBeTruthy()
  })

  it('not sent yet are worked around as far as no new plan is needed', async () => {
    new Site()
    const send = vi.fn()
    await mending({}, send)
    expect(screen.getByText(/Noted here, not sent yet/)).toBeTruthy()
    expect(screen.queryByText(/Cut the joint out/)).toBeNull()
    const again = screen.getByText('Do this step again').closest('li') as HTMLElement
    await userEvent.click(within(again).getByRole('button'))
    expect(send).toHaveBeenCalledWith('remedy', { step: 'join.1', about: 'f', choice: 'again' })
  })

  it('are taken back by whoever reported them, and by nobody else', async () => {
    new Site()
    const send = vi.fn()
    const { unmount } = await mending({}, send)
    await userEvent.click(screen.getByRole('button', { name: /take it back/ }))
    expect(send).toHaveBeenCalledWith('undone', { step: 'join.1', about: 'f' })
    unmount()
    for (const reporter of ['#9', '']) {
      const other = await mending({ reporter })
      expect(screen.queryByRole('button', { name: /take it back/ })).toBeNull()
      other.unmount()
    }
    await mending({ reporter: '#2' })
    expect(screen.getByRole('button', { name: /take it back/ })).toBeTruthy()
  })
})

describe('what is drawn as built', () => {
  it('is what the core says is built, bonds and tapes too', () => {
    const work = workOf([step('clamp'), step('wind')], {
      builds: { 'earth-bond': ['clamp'], 'mica-1': ['wind'] },
    })
    const states = [state('clamp', 'done'), state('wind')]
    expect(builtOf(work, states)).toEqual(new Set(['earth-bond']))
  })
})

describe('a photograph that is asked for', () => {
  it('and not taken is said to be missing', async () => {
    new Site()
    const hold = step('connectors', { kind: 'inspect', hold: 'connectors', photo: true })
    const { unmount } = await view(workOf([hold]), [hold])
    expect(screen.getByText(/the record says that it is missing/)).toBeTruthy()
    unmount()
    await view(workOf([hold]), [hold], outboxOf([waiting('runa', { kind: 'photo', step: 'connectors' })]))
    expect(screen.queryByText(/the record says that it is missing/)).toBeNull()
  })
})
