import { CloudOff } from 'lucide-react'
import type { useJoint } from './useJoint'

/** Whether what was typed is safe, and what to do when two people edited at once. */
export function SaveSign({ joint }: { joint: ReturnType<typeof useJoint> }) {
  if (joint.saving === 'conflict')
    return (
      <span
        className="flex flex-wrap items-center gap-2 bg-warning px-3 py-1 text-warning-content"
        role="alert"
      >
        Changed elsewhere in the meantime.
        <button type="button" className="btn btn-xs" onClick={joint.keepMine}>
          Keep what I typed
        </button>
        <button type="button" className="btn btn-xs" onClick={joint.takeTheirs}>
          Take theirs
        </button>
      </span>
    )
  if (joint.saving === 'offline')
    return (
      <span className="flex items-center gap-2 bg-warning px-3 py-1 text-warning-content" role="status">
        <CloudOff size={18} aria-hidden /> kept here, sent when the server is back
      </span>
    )
  if (joint.saving === 'refused')
    return (
      <span className="bg-error px-3 py-1 text-error-content" role="alert">
        not saved: {joint.error?.problem.detail ?? 'unknown fault'}
      </span>
    )
  return (
    <span className="text-sm opacity-85" role="status">
      {joint.saving === 'saved' ? '' : 'saving …'}
    </span>
  )
}
