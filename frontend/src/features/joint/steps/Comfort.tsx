import { Lock, LockOpen, Volume2, VolumeX } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { keep, recallWord } from '../../../model/device'

const HOLD_MS = 1200

/** Keeps the screen lit while the work is open; a device that will not simply does not. */
function useWakeLock() {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null
    let left = false
    const ask = async () => {
      if (document.visibilityState !== 'visible') return
      const given = await navigator.wakeLock?.request('screen').catch(() => null)
      if (left) void given?.release()
      else lock = given ?? null
    }
    void ask()
    document.addEventListener('visibilitychange', ask)
    return () => {
      left = true
      document.removeEventListener('visibilitychange', ask)
      void lock?.release()
    }
  }, [])
}

/** Reading aloud by the browser's own voice, and a lock against wet gloves. */
export function Comfort({ words }: { words: string }) {
  useWakeLock()
  const [aloud, setAloud] = useState(() => recallWord('aloud') === 'yes')
  const [locked, setLocked] = useState(false)
  const speaks = 'speechSynthesis' in window
  useEffect(() => {
    if (!aloud || !speaks || !words) return
    const said = new SpeechSynthesisUtterance(words)
    said.lang = 'en'
    speechSynthesis.cancel()
    speechSynthesis.speak(said)
    return () => speechSynthesis.cancel()
  }, [aloud, speaks, words])
  const toggle = () => {
    setAloud(!aloud)
    keep('aloud', aloud ? 'no' : 'yes')
  }
  return (
    <div className="flex gap-2">
      {speaks && (
        <button type="button" className="btn min-h-12 min-w-12" aria-pressed={aloud} onClick={toggle}>
          {aloud ? <Volume2 size={22} aria-hidden /> : <VolumeX size={22} aria-hidden />}
          <span className="sr-only lg:not-sr-only">{aloud ? 'Reads aloud' : 'Read aloud'}</span>
        </button>
      )}
      <button type="button" className="btn min-h-12 min-w-12" onClick={() => setLocked(true)}>
        <Lock size={22} aria-hidden />
        <span className="sr-only lg:not-sr-only">Lock the touches</span>
      </button>
      {locked && <Locked open={() => setLocked(false)} />}
    </div>
  )
}

/** Nothing reacts until the bar is held down for a while: rain does not. */
function Locked({ open }: { open: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null)
  const [held, setHeld] = useState(false)
  useEffect(() => dialog.current?.showModal(), [])
  useEffect(() => {
    if (!held) return
    const timer = setTimeout(open, HOLD_MS)
    return () => clearTimeout(timer)
  }, [held, open])
  const down = () => setHeld(true)
  const up = () => setHeld(false)
  return (
    <dialog
      ref={dialog}
      className="m-auto h-dvh max-h-none w-full max-w-none bg-transparent p-4 backdrop:bg-black/20"
      aria-label="Locked"
      onCancel={(e) => e.preventDefault()}
    >
      <div className="flex h-full items-end">
        <button
          type="button"
          className={`btn btn-huge w-full ${held ? 'btn-primary' : 'btn-neutral'}`}
          onPointerDown={down}
          onPointerUp={up}
          onPointerLeave={up}
          onKeyDown={(e) => e.key === 'Enter' && down()}
          onKeyUp={up}
        >
          <LockOpen aria-hidden /> {held ? 'Keep holding …' : 'Locked: hold here to open'}
        </button>
      </div>
    </dialog>
  )
}
