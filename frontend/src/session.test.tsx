// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it } from 'vitest'
import { api, take } from './api/client'
import { keepAnswer, recall, recallAnswer } from './model/device'
import { useLeave, useMay, useSession } from './session'
import { THEMES, useSettings } from './settings'
import { hook, newBrowser, newClient, problem, RUNA, Site, settled, show } from './testing/site'

beforeEach(newBrowser)

function Who() {
  const may = useMay('verifier')
  return (
    <p>
      {useSession().name}, {may ? 'may verify' : 'may not'}
    </p>
  )
}

function Leave() {
  return (
    <button type="button" onClick={useLeave()}>
      Out
    </button>
  )
}

describe('who is signed in', () => {
  it.each([
    ['viewer', 'may not'],
    ['jointer', 'may not'],
    ['verifier', 'may verify'],
    ['admin', 'may verify'],
  ])('a %s %s', async (role, words) => {
    new Site({ 'GET /session': { body: { ...RUNA, role } } })
    await show(<Who />)
    expect(screen.getByText(`Runa, ${words}`)).toBeTruthy()
  })

  it('is remembered while the server cannot be reached', async () => {
    const site = new Site()
    const first = await show(<Who />)
    first.unmount()
    site.answers['GET /session'] = 'no connection'
    await show(<Who />)
    expect(screen.getByText(/^Runa/)).toBeTruthy()
  })

  it('asked again in vain takes no page away', async () => {
    const client = newClient()
    const site = new Site()
    await show(<Who />, { client })
    site.answers['GET /session'] = problem(429, 'asked too often')
    await client.invalidateQueries({ queryKey: ['session'] })
    await settled()
    expect(client.getQueryState(['session'])?.status).toBe('error')
    expect(screen.getByText(/^Runa/)).toBeTruthy()
  })

  it.each([
    [401, 'tinknot:sign-in', { ...RUNA, signed_in: false }, 'Sign-in name'],
    [403, 'tinknot:csrf', { ...RUNA, name: 'Eskil', csrf: 'new' }, 'Eskil, may not'],
  ])('is asked for again when an answer is %i %s', async (status, type, session, words) => {
    const site = new Site()
    await show(<Who />)
    site.answers['GET /session'] = { body: session }
    site.answers['GET /board'] = problem(status, 'not so', undefined, type)
    await expect(take(api.GET('/api/v1/board'))).rejects.toThrow('not so')
    await settled()
    expect(document.body.textContent).toContain(words)
  })

  it('signed out without a connection is out here at once, and on the server when it is back', async () => {
    const site = new Site({ 'DELETE /session': 'no connection' })
    await show(<Leave />)
    await keepAnswer('work:J-1', { secret: true })
    await userEvent.click(screen.getByText('Out'))
    await settled()
    expect(screen.getByLabelText('Sign-in name')).toBeTruthy()
    expect(await recallAnswer('work:J-1')).toBeUndefined()
    site.answers['DELETE /session'] = { status: 204 }
    site.answers['GET /session'] = { body: { ...RUNA, signed_in: false } }
    await show(<Who />)
    expect(site.at('DELETE', '/session').at(-1)?.headers.get('X-CSRF-Token')).toBe('token')
    expect(recall('leaving')).toBeUndefined()
  })

  it('nobody and no connection is told, and tried again by one touch', async () => {
    const site = new Site({ 'GET /session': 'no connection' })
    await show(<Who />)
    expect(screen.getByRole('alert').textContent).toContain('No connection')
    site.answers['GET /session'] = { body: RUNA }
    await userEvent.click(screen.getByText('Try again'))
    await settled()
    expect(screen.getByText(/^Runa/)).toBeTruthy()
  })

  it('nobody signs in, and a wrong word is told without losing the name', async () => {
    const nobody = { ...RUNA, signed_in: false, name: '' }
    new Site({
      'GET /session': { body: nobody },
      'POST /session': problem(401, 'Name and password do not belong together.'),
    })
    await show(<Who />)
    await userEvent.type(screen.getByLabelText('Sign-in name'), 'runa')
    await userEvent.type(screen.getByLabelText('Password'), 'wrong')
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }))
    await settled()
    expect(screen.getByText(/do not belong together/)).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('Sign-in name').value).toBe('runa')
  })

  it.each([{ first_start: true }, { must_change: true }])('%o leads elsewhere first', async (more) => {
    new Site({ 'GET /session': { body: { ...RUNA, signed_in: !('first_start' in more), ...more } } })
    await show(<Who />)
    expect(screen.queryByText(/^Runa,/)).toBeNull()
    expect(screen.getAllByLabelText(/assword/).length).toBeGreaterThan(0)
  })
})

describe('units and theme', () => {
  it('are kept, and an unknown one is none', async () => {
    new Site()
    localStorage.setItem('theme', 'neon')
    const { result, unmount } = await hook(() => useSettings())
    expect([result.current.unit, result.current.theme]).toEqual(['mm', 'tin'])
    expect(THEMES.map((t) => t.id)).toContain(document.documentElement.dataset.theme)
    const { act } = await import('@testing-library/react')
    act(() => {
      result.current.setUnit('inch')
      result.current.setTheme('tin-sun')
    })
    unmount()
    const again = await hook(() => useSettings())
    expect([again.result.current.unit, again.result.current.theme]).toEqual(['inch', 'tin-sun'])
    expect(document.documentElement.dataset.theme).toBe('tin-sun')
  })
})
