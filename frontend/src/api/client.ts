/** The only place that fetches. */
import createClient, { type Middleware } from 'openapi-fetch'
import { keepAnswer, recallAnswer } from '../model/device'
import { signal } from '../model/signal'
import { once } from './once'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Problem = Schemas['Problem']
/** What the electrician has entered so far. */
export type Draft = Pick<
  Schemas['JointPatch'],
  | 'card'
  | 'ends'
  | 'connector'
  | 'stagger_steps'
  | 'bundle_od_mm'
  | 'choice'
  | 'build'
  | 'family'
  | 'sheet'
  | 'trace'
  | 'asked'
  | 'simulated'
>

let csrf = ''
export function setToken(token: string): void {
  csrf = token
}

/** A problem the server told, or that it could not be reached (status 0). */
export class ApiError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
  get offline(): boolean {
    return this.problem.status === 0
  }
  /** What is wrong at a field, by its JSON Pointer. */
  at(path: string): Schemas['Fault'] | undefined {
    return this.problem.errors.find((e) => e.path === path)
  }
}

export const UNREACHED: Problem = {
  type: 'tinknot:offline',
  title: 'No connection',
  status: 0,
  detail: 'The server cannot be reached. Nothing is lost; it is tried again.',
  errors: [],
}

const protect: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRF-Token', csrf)
    return request
  },
}

/** Sends a picture under its hash; bytes, not JSON. */
export async function putPicture(digest: string, picture: Blob): Promise<void> {
  const asked = fetch(`/api/v1/photos/${digest}`, {
    method: 'PUT',
    headers: { 'X-CSRF-Token': csrf, 'Content-Type': picture.type },
    body: picture,
  }).then(async (response) => ({
    response,
    error: response.ok ? undefined : ((await response.json()) as Problem),
  }))
  await take(asked)
}

export const api = createClient<paths>({ baseUrl: '/', fetch: (request) => fetch(request) })
api.use(protect)
api.use(once)

type Answer<T> = { data?: T; error?: Problem; response: Response }

/** An answer that is kept on the device, and the one kept while the server cannot be reached. What the server refuses is
 *  refused. */
export async function keptAnswer<T>(key: string, asked: () => Promise<T>): Promise<T> {
  try {
    const found = await asked()
    void keepAnswer(key, found)
    return found
  } catch (fault) {
    const unreached = !(fault instanceof ApiError) || fault.offline || fault.problem.status >= 500
    const held = unreached ? await recallAnswer<T>(key) : undefined
    if (held === undefined) throw fault
    return held
  }
}

const stranger = signal()

/** Told when the server knows this page's session no more: it ended, or somebody signed in anew beside it. */
export const onStranger = stranger.on

/** The data of an answer, or an ApiError thrown. */
export async function take<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await asked
  } catch {
    throw new ApiError(UNREACHED)
  }
  if (answer.error || !answer.response.ok) {
    const told = answer.error
    const { status, statusText } = answer.response
    const problem =
      told && typeof told === 'object' && 'detail' in told
        ? told
        : { ...UNREACHED, status, title: 'Refused', detail: statusText }
    if (status === 401 || problem.type === 'tinknot:csrf') stranger.tell()
    throw new ApiError(problem)
  }
  return answer.data as T
}
