import { Camera } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import type { useEvents, WorkProps } from '../useWork'

const MOST_PX = 1600

/** Smaller, as JPEG; a device that cannot shrink sends the file as it is. */
async function shrunk(file: File): Promise<Blob> {
  try {
    const picture = await createImageBitmap(file)
    const share = Math.min(1, MOST_PX / Math.max(picture.width, picture.height))
    const canvas = document.createElement('canvas')
    canvas.width = Math.round(picture.width * share)
    canvas.height = Math.round(picture.height * share)
    canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height)
    const small = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', 0.82))
    return small ?? file
  } catch {
    return file
  }
}

async function digestOf(picture: Blob): Promise<string> {
  const sum = await crypto.subtle.digest('SHA-256', await picture.arrayBuffer())
  return [...new Uint8Array(sum)].map((b) => b.toString(16).padStart(2, '0')).join('')
}

interface Props extends Pick<WorkProps, 'work' | 'outbox'> {
  step: string
  send: ReturnType<typeof useEvents>
  works: boolean
}

/** Pictures of a step: taken by the camera or picked, shrunk here, waiting in the outbox when offline. */
export function Pictures({ work, outbox, step, send, works }: Props) {
  const [fault, setFault] = useState('')
  const waiting = outbox.items.filter((i) => i.event.step === step && i.picture)
  const here = work.progress.photos[step] ?? []
  const add = async (file: File | undefined) => {
    if (!file) return
    setFault('')
    try {
      const picture = await shrunk(file)
      const taken = new Date(file.lastModified || Date.now()).toISOString()
      await send('photo', { step, photo: await digestOf(picture), picture, text: `taken ${taken}` })
    } catch {
      setFault('This file could not be read as a picture. Take it again.')
    }
  }
  return (
    <div className="flex flex-wrap items-center gap-2">
      {works && (
        <label className="btn min-h-14 cursor-pointer">
          <Camera size={24} aria-hidden /> Take a picture
          <input
            type="file"
            accept="image/*"
            capture="environment"
            className="sr-only"
            onChange={(e) => {
              void add(e.target.files?.[0])
              e.target.value = ''
            }}
          />
        </label>
      )}
      {here.map((digest) => (
        <a key={digest} href={`/api/v1/photos/${digest}`} target="_blank" rel="noreferrer">
          <img
            className="h-14 w-24 object-cover"
            src={`/api/v1/photos/${digest}`}
            alt={`of this step, ${digest.slice(0, 6)}`}
          />
        </a>
      ))}
      {waiting.map((i) => (
        <Waiting key={i.event.id} picture={i.picture as Blob} />
      ))}
      {fault && <p className="font-medium text-error">{fault}</p>}
    </div>
  )
}

function Waiting({ picture }: { picture: Blob }) {
  const url = useMemo(() => URL.createObjectURL(picture), [picture])
  useEffect(() => () => URL.revokeObjectURL(url), [url])
  return <img className="h-14 w-24 border-2 border-warning object-cover" src={url} alt="not sent yet" />
}
