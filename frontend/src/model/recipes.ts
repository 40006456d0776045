/** What a heat-trace kit makes, in words. */
export const RECIPES: Record<string, string> = {
  'trace-power': 'power connection',
  'trace-splice': 'in-line splice',
  'trace-tee': 'tee splice',
  'trace-end': 'end seal',
  'trace-power-end': 'power connection and end seal',
}
