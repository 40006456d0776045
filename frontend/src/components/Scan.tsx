import { useEffect, useRef, useState } from 'react'
import { TextField } from './fields'

interface Props {
  title: string
  found: (text: string) => void
  close: () => void
}

/** Reads a QR code through the camera; a device without one says so, and the other ways stay. */
export function Scan({ title, found, close }: Props) {
  const dialog = useRef<HTMLDialogElement>(null)
  const video = useRef<HTMLVideoElement>(null)
  const [words, setWords] = useState('Hold the code before the camera.')
  const [typed, setTyped] = useState('')
  const told = useRef(found)
  told.current = found
  useEffect(() => {
    dialog.current?.showModal()
    let stream: MediaStream | null = null
    let timer: ReturnType<typeof setInterval> | undefined
    let left = false
    const begin = async () => {
      if (!navigator.mediaDevices?.getUserMedia) throw new Error('none')
      stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
      if (left || !video.current) return stop()
      video.current.srcObject = stream
      await video.current.play()
      const { default: read } = await import('jsqr')
      const canvas = document.createElement('canvas')
      timer = setInterval(() => {
        const frame = video.current
        const draw = canvas.getContext('2d', { willReadFrequently: true })
        if (!frame?.videoWidth || !draw) return
        canvas.width = frame.videoWidth
        canvas.height = frame.videoHeight
        draw.drawImage(frame, 0, 0)
        const code = read(
          draw.getImageData(0, 0, canvas.width, canvas.height).data,
          canvas.width,
          canvas.height,
        )
        if (code?.data) {
          told.current(code.data)
          dialog.current?.close()
        }
      }, 200)
    }
    const stop = () => {
      clearInterval(timer)
      for (const track of stream?.getTracks() ?? []) track.stop()
    }
    begin().catch(() => setWords('No camera can be used here. Pick from the list or type it.'))
    return () => {
      left = true
      stop()
    }
  }, [])
  return (
    <dialog ref={dialog} className="modal" aria-label={title} onClose={close}>
      <div className="modal-box">
        <h2>{title}</h2>
        <p className="my-2 text-lg" role="status">
          {words}
        </p>
        <form
          className="mb-3"
          onSubmit={(e) => {
            e.preventDefault()
            const code = typed.trim()
            if (!code) return
            told.current(code)
            dialog.current?.close()
          }}
        >
          <TextField
            label="Or with a scanner that types, or by hand"
            hint="Ends with Enter"
            autoComplete="off"
            value={typed}
            onChange={setTyped}
          />
        </form>
        <video ref={video} muted playsInline className="w-full bg-neutral" />
        <div className="modal-action">
          <button type="button" className="btn btn-tall" onClick={() => dialog.current?.close()}>
            Close
          </button>
        </div>
      </div>
    </dialog>
  )
}
