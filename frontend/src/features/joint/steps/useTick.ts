import { useEffect, useState } from 'react'
import { now } from '../../../model/clock'

/** The server's time, renewed each second while `on`. */
export function useTick(on: boolean): number {
  const [at, setAt] = useState(now)
  useEffect(() => {
    if (!on) return
    setAt(now())
    const timer = setInterval(() => setAt(now()), 1000)
    return () => clearInterval(timer)
  }, [on])
  return at
}
