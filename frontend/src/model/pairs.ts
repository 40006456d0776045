/** Rows of a data sheet as people type them, each of two numbers or more. */

/** `[{length_mm: 25, inside_diameter_mm: 18}]` as `25 = 18`. */
export function pairsText(value: unknown, names: string[]): string {
  if (!Array.isArray(value)) return ''
  return value.map((p: Record<string, number>) => names.map((n) => `${p[n]}`).join(' = ')).join(', ')
}

/** The other way; a figure that cannot be read is left for the server to name. */
export function readPairs(text: string, names: string[]): Record<string, number>[] {
  return text
    .split(/[,;]\s+|;/)
    .filter((t) => t.trim())
    .map((t) => {
      const numbers = t.split('=').map((n) => Number(n.trim().replace(',', '.')))
      return Object.fromEntries(names.map((name, i) => [name, numbers[i] ?? Number.NaN]))
    })
}
