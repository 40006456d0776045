/** Pairs of a data sheet as people type them. */

/** `[{length_mm: 25, inside_diameter_mm: 18}]` as `25 = 18`. */
export function pairsText(value: unknown, names: [string, string]): string {
  if (!Array.isArray(value)) return ''
  return value.map((p: Record<string, number>) => `${p[names[0]]} = ${p[names[1]]}`).join(', ')
}

/** The other way; a figure that cannot be read is left for the server to name. */
export function readPairs(text: string, names: [string, string]): Record<string, number>[] {
  return text
    .split(/[,;]\s+|;/)
    .filter((t) => t.trim())
    .map((t) => {
      const [first, second] = t.split('=').map((n) => Number(n.trim().replace(',', '.')))
      return { [names[0]]: first ?? Number.NaN, [names[1]]: second ?? Number.NaN }
    })
}
