import { useEffect, useState } from 'react'
import { now } from '../../../model/clock'

/** The server's time as it is drawn, drawn anew each second while `on`, and when it comes to `until`. */
export function useTick(on: boolean, until = Number.POSITIVE_INFINITY): number {
  const [, renew] = useState(0)
  useEffect(() => {
    if (!on) return
    const again = () => renew((n) => n + 1)
    const each = setInterval(again, 1000)
    const left = until - now()
    const end = left > 0 && left < 1000 * 60 * 60 * 24 ? setTimeout(again, left) : undefined
    return () => {
      clearInterval(each)
      clearTimeout(end)
    }
  }, [on, until])
  return now()
}
