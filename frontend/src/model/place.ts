/** Where something stands, in words, from its JSON Pointer: "End B, core 2, insulation od". */

const UNITS = /_(mm|mm2|c|v|a|m|h|g|kg|pct|min|ml|ohm|mohm|nm|per_m)$/
const SKIPPED = new Set(['trace', 'leaflet', 'build', 'asked', 'draft', 'figures'])

function words(key: string): string {
  return key.replace(UNITS, '').replace(/[_-]/g, ' ')
}

/** Empty for a place that has no name of its own. */
export function placeSaid(path: string): string {
  const parts = path.split('/').filter((p) => p && !SKIPPED.has(p))
  const said: string[] = []
  for (let i = 0; i < parts.length; i += 1) {
    const part = parts[i] ?? ''
    const next = parts[i + 1] ?? ''
    if (part === 'ends' && /^[A-Z]$/.test(next)) {
      said.push(`end ${next}`)
      i += 1
    } else if (/^\d+$/.test(next)) {
      said.push(`${words(part).replace(/s$/, '')} ${Number(next) + 1}`)
      i += 1
    } else said.push(words(part))
  }
  const all = said.join(', ')
  return all.charAt(0).toUpperCase() + all.slice(1)
}
