import { useMutation } from '@tanstack/react-query'
import { Printer } from 'lucide-react'
import { api, take } from '../../../api/client'
import { ErrorNote } from '../../../components/notes'

/** The label on the label printer by one touch; it is shrunk under a clear sleeve. */
export function PrintLabel({ joint }: { joint: string }) {
  const print = useMutation({
    mutationFn: () => take(api.POST('/api/v1/joints/{ref}/label', { params: { path: { ref: joint } } })),
  })
  return (
    <div className="flex flex-col gap-2">
      <button
        type="button"
        className="btn btn-tall"
        disabled={print.isPending}
        onClick={() => print.mutate()}
      >
        <Printer aria-hidden /> Print the label
      </button>
      {print.data && (
        <p className="text-lg" role="status">
          In the printer's tray: <b>{print.data.name}</b>.{' '}
          <a className="link" href={`/api/v1/joints/${joint}/label.pdf`} target="_blank" rel="noreferrer">
            Look at it
          </a>
        </p>
      )}
      {print.error && <ErrorNote error={print.error} />}
    </div>
  )
}
