import { useMutation } from '@tanstack/react-query'
import { Printer } from 'lucide-react'
import { api, take } from '../../../api/client'
import { ErrorNote } from '../../../components/notes'
import type { WorkProps } from '../useWork'

/** The label on the label printer by one touch; it is shrunk under a clear sleeve. */
export function PrintLabel({ work }: Pick<WorkProps, 'work'>) {
  const joint = work.ref
  const printer = work.instruments.find((i) => i.kind === 'printer')
  const print = useMutation({
    mutationFn: () => take(api.POST('/api/v1/joints/{ref}/label', { params: { path: { ref: joint } } })),
  })
  const look = (
    <a
      className={printer ? 'link' : 'btn btn-tall'}
      href={`/api/v1/joints/${joint}/label.pdf`}
      target="_blank"
      rel="noreferrer"
    >
      {printer ? 'Look at it' : 'Open the label to print it'}
    </a>
  )
  if (!printer) return look
  return (
    <div className="flex flex-col gap-2">
      <button
        type="button"
        className="btn btn-tall"
        disabled={print.isPending}
        onClick={() => print.mutate()}
      >
        <Printer aria-hidden /> Print the label on the {printer.name}
      </button>
      {print.data && (
        <p className="text-lg" role="status">
          In the printer's tray: <b>{print.data.name}</b>. {look}
        </p>
      )}
      {print.error && <ErrorNote error={print.error} />}
    </div>
  )
}
