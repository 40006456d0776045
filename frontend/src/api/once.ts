/** A key for each thing that is to be made, so that a request sent twice makes it once. The key stays while nobody
 *  knows what became of the request: the same one again goes under the same key. Once it was answered, the next one
 *  is a new wish. */
import type { Middleware } from 'openapi-fetch'
import type { paths } from './schema'

/** The addresses whose description takes an Idempotency-Key. */
type HeaderOf<P extends keyof paths> = paths[P] extends { post: { parameters: { header?: infer H } } }
  ? NonNullable<H>
  : never
type Keyed = {
  [P in keyof paths]: [HeaderOf<P>] extends [never]
    ? never
    : 'Idempotency-Key' extends keyof HeaderOf<P>
      ? P
      : never
}[keyof paths]

const MAKES: Record<Keyed, true> = {
  '/api/v1/joints': true,
  '/api/v1/joints/{ref}/label': true,
  '/api/v1/joints/{ref}/plans': true,
  '/api/v1/lines': true,
  '/api/v1/sheets': true,
  '/api/v1/sheets/{sheet_id}/check': true,
  '/api/v1/sheets/{sheet_id}/retire': true,
  '/api/v1/stock': true,
  '/api/v1/stock-import': true,
  '/api/v1/stock/{part_id}/lots': true,
  '/api/v1/stock/{part_id}/lots/{lot_id}/count': true,
  '/api/v1/stock/{part_id}/retired': true,
  '/api/v1/tools': true,
  '/api/v1/zones': true,
}
const HEADER = 'Idempotency-Key'
const open = new Map<string, string>()
const wishes = new WeakMap<Request, string>()

export const once: Middleware = {
  async onRequest({ request, schemaPath }) {
    if (request.method !== 'POST' || !(schemaPath in MAKES)) return undefined
    const wish = `${request.url}\n${request.headers.get('If-Match') ?? ''}\n${await request.clone().text()}`
    const key = open.get(wish) ?? crypto.randomUUID()
    open.set(wish, key)
    request.headers.set(HEADER, key)
    wishes.set(request, wish)
    return request
  },
  onResponse({ request, response }) {
    const wish = wishes.get(request)
    if (wish !== undefined && response.status < 500) open.delete(wish)
  },
}
