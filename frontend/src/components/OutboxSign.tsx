import { CloudUpload } from 'lucide-react'
import { useOutbox } from './outbox'

/** Says what has not been sent yet. */
export function OutboxSign() {
  const { items } = useOutbox()
  if (!items.length) return null
  return (
    <span
      className="flex items-center gap-1 bg-warning px-2 py-1 font-semibold text-warning-content"
      role="status"
    >
      <CloudUpload size={18} aria-hidden /> {items.length} not sent yet
    </span>
  )
}
