/** The kinds of joint there are, and what kit sheets make; kept on the device for when there is no connection. */
import { useQuery } from '@tanstack/react-query'
import { api, keptAnswer, type Schemas, take } from '../api/client'

export type Kind = Schemas['FamilyOut']

export function useKinds(): Kind[] {
  const found = useQuery({
    queryKey: ['families'],
    queryFn: () => keptAnswer('families', () => take(api.GET('/api/v1/families'))),
    staleTime: Number.POSITIVE_INFINITY,
  })
  return found.data?.items ?? []
}

/** What a sheet can make: its recipe, in words, and whether it is a leaflet whose rows are the work. */
export interface Makes {
  recipe: string
  makes: string
  leaflet: boolean
}

export function makesOf(kinds: Kind[]): Makes[] {
  const found = kinds.flatMap((k) => k.sheets.map((s) => ({ ...s, leaflet: k.needs_sheet })))
  return [...new Map(found.map((m) => [m.recipe, m])).values()].sort(
    (a, b) => Number(b.leaflet) - Number(a.leaflet),
  )
}

export const sheetMakes = (makes: Makes[], recipe: string) =>
  makes.find((m) => m.recipe === recipe) ?? { recipe, makes: recipe, leaflet: false }
