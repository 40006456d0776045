const PARTS = /^(\D*)(\d+)(\D*)$/

/** Names that follow each other said as a run: 1a, 2a, 3a, 7a are "1a to 3a, 7a". */
export function inRuns(names: readonly string[]): string {
  const runs: string[][] = []
  for (const name of names) {
    const run = runs.at(-1)
    if (run && follows(run.at(-1) ?? '', name)) run.push(name)
    else runs.push([name])
  }
  return runs.flatMap((run) => (run.length > 2 ? [`${run[0]} to ${run.at(-1)}`] : run)).join(', ')
}

function follows(before: string, name: string): boolean {
  const [a, b] = [PARTS.exec(before), PARTS.exec(name)]
  return a !== null && b !== null && a[1] === b[1] && a[3] === b[3] && Number(b[2]) === Number(a[2]) + 1
}
