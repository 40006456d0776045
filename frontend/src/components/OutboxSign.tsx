import { CloudUpload } from 'lucide-react'
import { useOutbox } from './outbox'

/** Says what has not been sent yet. It comes and goes while somebody works, so it must fit into its bar as it is: a bar
 *  that grew by a row would move what a finger is about to touch. */
export function OutboxSign() {
  const { items } = useOutbox()
  if (!items.length) return null
  return (
    <span
      className="flex items-center gap-1 bg-warning px-2 py-1 font-semibold text-warning-content max-md:max-w-20 max-md:py-0 max-md:text-sm max-md:leading-tight"
      role="status"
    >
      <CloudUpload size={18} className="max-md:hidden" aria-hidden /> {items.length} not sent yet
    </span>
  )
}
