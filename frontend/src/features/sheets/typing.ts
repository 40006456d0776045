/** How the parts of the editor change the sheet and learn what is said of it. */
import type { Leaflet } from './useSheet'

export type Edit = (change: Partial<Leaflet>) => void
/** What is said at a place of the sheet, by JSON Pointer; also of what lies under it when `deep`. */
export type At = (path: string, deep?: boolean) => string | undefined
