import { QrCode } from 'lucide-react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { Later } from '../../components/Later'

const Scan = () => import('../../components/Scan').then((m) => m.Scan)

/** The joint a label's code leads to; a code of another site is no address of this one. */
export function jointOf(code: string): string | null {
  try {
    const found = /^\/joints\/([^/]+)/.exec(new URL(code).pathname)
    return found?.[1] ? decodeURIComponent(found[1]) : null
  } catch {
    return null
  }
}

/** Opens a joint by the label beside it. */
export function ScanJoint() {
  const [open, setOpen] = useState(false)
  const [words, setWords] = useState('')
  const navigate = useNavigate()
  const found = (code: string) => {
    const joint = jointOf(code)
    if (joint) navigate(`/joints/${joint}`)
    else setWords('This code is no label of a joint.')
  }
  return (
    <>
      <button type="button" className="btn btn-tall w-full" onClick={() => setOpen(true)}>
        <QrCode aria-hidden /> Scan a label
      </button>
      {words && (
        <p className="font-medium text-error" role="alert">
          {words}
        </p>
      )}
      {open && (
        <Later
          of={Scan}
          what="the scanner"
          with={{ title: "Scan the joint's label", found: found, close: () => setOpen(false) }}
        />
      )}
    </>
  )
}
