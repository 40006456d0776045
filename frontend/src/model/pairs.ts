/** Pairs of a data sheet as people type them. */

/** `[{length_mm: 25, inside_diameter_mm: 18}]` as `25 = 18`. */
export function pairsText(value: unknown, [a = '', b = '']: string[]): string {
  if (!Array.isArray(value)) return ''
  return value.map((p: Record<string, number>) => `${p[a]} = ${p[b]}`).join(', ')
}

/** The other way; a figure that cannot be read is left for the server to name. */
export function readPairs(text: string, [a = '', b = '']: string[]): Record<string, number>[] {
  return text
    .split(/[,;]\s+|;/)
    .filter((t) => t.trim())
    .map((t) => {
      const [first, second] = t.split('=').map((n) => Number(n.trim().replace(',', '.')))
      return { [a]: first ?? Number.NaN, [b]: second ?? Number.NaN }
    })
}
