import { useEffect, useRef, useState } from 'react'
import type { Schemas } from '../../../api/client'
import { KEY, Keys } from './Keys'

const FIGURES = ['1', '2', '3', '4', '5', '6', '7', '8', '9']

/** Seals a PIN to the site's key (RSA-OAEP, SHA-256), so that it waits unreadable, for one event of one step of one
 *  joint: it opens for nothing else. */
async function seal(pin: string, key: string, place: string[]): Promise<string> {
  const bytes = Uint8Array.from(atob(key), (c) => c.charCodeAt(0))
  const site = await crypto.subtle.importKey('spki', bytes, { name: 'RSA-OAEP', hash: 'SHA-256' }, false, [
    'encrypt',
  ])
  const label = new TextEncoder().encode(place.join('\n'))
  const sealed = await crypto.subtle.encrypt({ name: 'RSA-OAEP', label }, site, new TextEncoder().encode(pin))
  return btoa(String.fromCharCode(...new Uint8Array(sealed)))
}

/** An event with its signature: the id is made first, for the PIN is sealed to it. */
export type Signed = Pick<Schemas['EventIn'], 'id' | 'signature'>

interface Props {
  joint: string
  step: Schemas['StepOut']
  verifiers: (Schemas['Verifier'] & { barred: boolean })[]
  pinKey: string
  done: (signed: Signed) => void
  close: () => void
}

/** A second person signs here, on this device, with their own PIN; also without signal. */
export function PinSign({ joint, step, verifiers, pinKey, done, close }: Props) {
  const able = verifiers.filter((v) => !v.barred)
  const [who, setWho] = useState(able.length === 1 ? (able[0]?.username ?? '') : '')
  const [pin, setPin] = useState('')
  const [fault, setFault] = useState('')
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => dialog.current?.showModal(), [])
  const sign = async () => {
    try {
      const id = crypto.randomUUID()
      const sealed_pin = await seal(pin, pinKey, [joint, step.id, id])
      done({ id, signature: { username: who, sealed_pin } })
      dialog.current?.close()
    } catch {
      setFault('This browser cannot seal the PIN here. Sign on the own account instead.')
    }
  }
  return (
    <dialog ref={dialog} className="modal" aria-label="A second person signs" onClose={close}>
      <div className="modal-box">
        <h2>{step.title}</h2>
        {verifiers.length === 0 ? (
          <p className="text-lg">
            This device knows of nobody who signs with a PIN. A verifier sets theirs under their own name, top
            right; what was set elsewhere is known here once there was a connection.
          </p>
        ) : (
          <>
            <div className="my-3 grid gap-2">
              {verifiers.map((v) => (
                <button
                  key={v.username}
                  type="button"
                  aria-pressed={who === v.username}
                  disabled={v.barred}
                  className={`btn btn-tall ${who === v.username ? 'btn-primary' : ''}`}
                  onClick={() => setWho(v.username)}
                >
                  {v.name}
                  {v.barred && <span className="block text-base font-normal">did part of this work</span>}
                </button>
              ))}
            </div>
            {able.length === 0 && (
              <p className="text-lg">
                Everybody who may sign did part of this work. Somebody else signs it, or an admin adds a
                verifier.
              </p>
            )}
            <p className="input my-2 h-16 w-full text-4xl">
              <input
                aria-label="PIN"
                className="!text-4xl"
                type="password"
                inputMode="none"
                autoComplete="off"
                value={pin}
                onChange={(e) => setPin(e.target.value.replace(/\D/g, '').slice(0, 12))}
              />
            </p>
            <Keys keys={FIGURES} press={(k) => setPin((p) => p + k)}>
              <button type="button" className="btn h-16" onClick={() => setPin('')}>
                Clear
              </button>
              <button type="button" className={KEY} onClick={() => setPin((p) => `${p}0`)}>
                0
              </button>
            </Keys>
            {fault && <p className="mt-2 font-medium text-error">{fault}</p>}
          </>
        )}
        <div className="modal-action">
          <button type="button" className="btn btn-tall" onClick={() => dialog.current?.close()}>
            Not now
          </button>
          <button
            type="button"
            className="btn btn-warning btn-tall"
            disabled={!who || pin.length < 4}
            onClick={() => void sign()}
          >
            Sign
          </button>
        </div>
      </div>
    </dialog>
  )
}
