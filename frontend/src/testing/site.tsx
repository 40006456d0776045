/** A server and a page for component tests: answers by address, and the providers every part of the page stands on. */
import 'fake-indexeddb/auto'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, render, renderHook } from '@testing-library/react'
import { IDBFactory } from 'fake-indexeddb'
import type { ReactNode } from 'react'
import { MemoryRouter } from 'react-router'
import { afterEach, vi } from 'vitest'
import { SessionGate } from '../session'
import { SettingsProvider } from '../settings'
import './patience'

export type Answer = { status?: number; body?: unknown; etag?: string } | 'no connection'
export interface Asked {
  method: string
  path: string
  body: unknown
  headers: Headers
}
type Handler = Answer | ((asked: Asked) => Answer | Promise<Answer>)

export const RUNA = {
  signed_in: true,
  first_start: false,
  needs_code: false,
  mark: '#2',
  username: 'runa',
  name: 'Runa',
  role: 'jointer',
  must_change: false,
  has_pin: false,
  csrf: 'token',
  site: { dates: { order: 'day-month-year', hours: 24 }, unit: 'mm' },
}

/** A problem as the server tells it. */
export const problem = (status: number, detail: string, path?: string, type = 'tinknot:x'): Answer => ({
  status,
  body: {
    type,
    title: 'Refused',
    status,
    detail,
    errors: path === undefined ? [] : [{ path, message: detail }],
  },
})

/** The server: what it answers can be changed while a test runs, what it was asked can be looked at. */
export class Site {
  readonly asked: Asked[] = []
  constructor(readonly answers: Record<string, Handler> = {}) {
    this.answers = { 'GET /session': { body: RUNA }, ...answers }
    vi.stubGlobal('fetch', (input: Request | string, init?: RequestInit) =>
      this.fetch(new Request(input, init)),
    )
  }

  private async fetch(request: Request): Promise<Response> {
    const path = new URL(request.url, 'http://site').pathname.replace('/api/v1', '')
    const text = request.method === 'GET' ? '' : await request.clone().text()
    const json = request.headers.get('Content-Type')?.includes('json')
    const asked = {
      method: request.method,
      path,
      body: json && text ? JSON.parse(text) : text,
      headers: request.headers,
    }
    this.asked.push(asked)
    const handler = this.answers[`${request.method} ${path}`] ?? problem(404, `nothing at ${path}`)
    const answer = typeof handler === 'function' ? await handler(asked) : handler
    if (answer === 'no connection') throw new TypeError('Failed to fetch')
    const status = answer.status ?? 200
    const headers = new Headers({
      'Content-Type': status < 400 ? 'application/json' : 'application/problem+json',
    })
    if (answer.etag) headers.set('ETag', answer.etag)
    return new Response(status === 204 ? null : JSON.stringify(answer.body ?? null), { status, headers })
  }

  /** What was asked at one address, in order. */
  at(method: string, path: string): Asked[] {
    return this.asked.filter((a) => a.method === method && a.path === path)
  }
}

export function newClient(): QueryClient {
  return new QueryClient({
    defaultOptions: { queries: { retry: 0, networkMode: 'always' }, mutations: { networkMode: 'always' } },
  })
}

interface Around {
  path?: string
  client?: QueryClient
}

const clients = new Set<QueryClient>()

function around({ path = '/', client = newClient() }: Around) {
  clients.add(client)
  return ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>
      <SettingsProvider>
        <MemoryRouter initialEntries={[path]}>
          <SessionGate>{children}</SessionGate>
        </MemoryRouter>
      </SettingsProvider>
    </QueryClientProvider>
  )
}

/** Puts a part of the page up, once the person is signed in. */
export async function show(part: ReactNode, more: Around = {}) {
  const shown = render(part, { wrapper: around(more) })
  await settled()
  return shown
}

/** Runs a hook inside the page. */
export async function hook<T>(use: () => T, more: Around = {}) {
  const found = renderHook(use, { wrapper: around(more) })
  await settled()
  return found
}

const QUIET = 2 // looks in a row that found nothing under way
const HOPS = 20 // a store or an answer takes some turns of the loop, however busy the machine is

/** Everything that was begun has come to its end: nothing is asked for any more, for a moment. */
export async function settled(ms = 30): Promise<void> {
  for (let look = 0, quiet = 0; look < 40 && quiet < QUIET; look += 1) {
    await act(async () => {
      await new Promise((done) => setTimeout(done, ms))
      for (let hop = 0; hop < HOPS; hop += 1) await new Promise((done) => setTimeout(done))
    })
    quiet = [...clients].some((c) => c.isFetching() || c.isMutating()) ? 0 : quiet + 1
  }
}

/** A browser that nobody has used before. */
export function newBrowser(): void {
  localStorage.clear()
  vi.stubGlobal('indexedDB', new IDBFactory())
}

afterEach(() => {
  cleanup()
  clients.clear()
  vi.unstubAllGlobals()
})
