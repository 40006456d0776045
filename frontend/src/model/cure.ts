/** The degree of cure between the server's answers: from the last reading on it rises evenly to full. */
import type { components } from '../api/schema'

type Cure = Pick<components['schemas']['CureState'], 'at' | 'full_at' | 'fraction'>

/** 0 to 1 at a moment (ms since 1970, server's clock). */
export function cureAt(cure: Cure, moment: number): number {
  if (cure.full_at === null || cure.fraction >= 1) return Math.min(1, cure.fraction)
  const begun = Date.parse(cure.at)
  const full = Date.parse(cure.full_at)
  const share = (moment - begun) / Math.max(1, full - begun)
  return Math.min(1, cure.fraction + (1 - cure.fraction) * Math.max(0, share))
}
