import { registerSW } from 'virtual:pwa-register'
import { useEffect, useState } from 'react'
import { useLocation } from 'react-router'

/** Keeps the application openable offline. A new version waits and offers itself, never during a build. */
export function UpdateSign() {
  const [ready, setReady] = useState<(() => Promise<void>) | null>(null)
  const { pathname } = useLocation()
  useEffect(() => {
    const update = registerSW({ onNeedRefresh: () => setReady(() => () => update(true)) })
  }, [])
  if (!ready || /\/joints\/[^/]+\/(cut|park|build|prove|sign)/.test(pathname)) return null
  return (
    <div className="toast no-print" role="status">
      <div className="alert">
        <span>A new version is here.</span>
        <button type="button" className="btn btn-sm btn-primary" onClick={ready}>
          Change to it
        </button>
      </div>
    </div>
  )
}
