import { Menu } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { Link, useNavigate } from 'react-router'
import { ChoosePassword } from '../account/ChoosePassword'
import { ChoosePin } from '../account/ChoosePin'
import { useLeave, useSession } from '../session'
import { THEMES, useSettings } from '../settings'
import { usePlaces } from './places'

const SHORTCUTS: [string, string][] = [
  ['?', 'this list'],
  ['g l', 'lines'],
  ['g f', 'fit check'],
  ['g s', 'stock'],
  ['g r', 'register'],
  ['u', 'mm or inch'],
  ['t', 'day, night, sunlight'],
  ['1 … 8', 'stations of the open joint'],
  ['← →', 'along the ribbon, when it has the focus'],
]
const GO: Record<string, string> = { l: '/', f: '/fit', s: '/stock', r: '/register' }

interface Props {
  /** It is the only way from here to the other places. */
  alone?: boolean
}

/** Units, theme, account, shortcuts: the right end of every bar; on a phone behind one button with the places there
 *  are, so that the bar keeps to one row. */
export function Tools({ alone = false }: Props) {
  const places = usePlaces()
  const { unit, theme, setUnit, setTheme } = useSettings()
  const session = useSession()
  const help = useRef<HTMLDialogElement>(null)
  const account = useRef<HTMLDialogElement>(null)
  const menu = useRef<HTMLDialogElement>(null)
  const navigate = useNavigate()
  const nextTheme = THEMES[(THEMES.findIndex((t) => t.id === theme) + 1) % THEMES.length] ?? THEMES[0]
  const now = THEMES.find((t) => t.id === theme) ?? THEMES[0]

  useEffect(() => {
    let waiting = false
    const press = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement
      if (e.ctrlKey || e.metaKey || e.altKey || at.closest('input, textarea, select, dialog[open]')) return
      if (waiting && GO[e.key]) navigate(GO[e.key] ?? '/')
      else if (e.key === '?') help.current?.showModal()
      else if (e.key === 'u') setUnit(unit === 'mm' ? 'inch' : 'mm')
      else if (e.key === 't') setTheme(nextTheme.id)
      waiting = e.key === 'g'
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [unit, nextTheme, setUnit, setTheme, navigate])

  const leave = useLeave()
  const plain = 'min-h-11 px-2 text-lg font-medium underline-offset-4 hover:underline'
  const controls = (
    <>
      <fieldset className="flex">
        <legend className="sr-only">Unit</legend>
        {(['mm', 'inch'] as const).map((u) => (
          <button
            key={u}
            type="button"
            aria-pressed={unit === u}
            className={`${plain} ${unit === u ? 'font-bold underline decoration-[#d98326] decoration-3' : 'opacity-80'}`}
            onClick={() => setUnit(u)}
          >
            {u}
          </button>
        ))}
      </fieldset>
      <button
        type="button"
        className={plain}
        onClick={() => setTheme(nextTheme.id)}
        title={`Change to ${nextTheme.name}`}
      >
        <span className="md:hidden">Theme: </span>
        {now.name}
      </button>
      <button type="button" className={plain} onClick={() => account.current?.showModal()}>
        <span className="md:hidden">Account: </span>
        {session.name}
      </button>
      <button
        type="button"
        className={plain}
        aria-label="Shortcuts"
        onClick={() => help.current?.showModal()}
      >
        <span className="max-md:hidden">?</span>
        <span className="md:hidden">Shortcuts</span>
      </button>
    </>
  )
  return (
    <div className="ml-auto flex items-center gap-1">
      <div className="hidden items-center gap-1 md:flex">{controls}</div>
      <button
        type="button"
        className={`flex min-h-11 min-w-11 items-center justify-center ${alone ? '' : 'md:hidden'}`}
        aria-label="Menu"
        onClick={() => menu.current?.showModal()}
      >
        <Menu size={24} aria-hidden />
      </button>
      <dialog ref={menu} className="modal text-base-content" aria-label="Menu">
        <div className="modal-box">
          <nav aria-label="Places" className="grid grid-cols-2 gap-2">
            {places.map(({ to, name }) => (
              <Link
                key={to}
                to={to}
                className="btn justify-start text-lg"
                onClick={() => menu.current?.close()}
              >
                {name}
              </Link>
            ))}
          </nav>
          <div className="mt-4 flex flex-col items-start gap-2 md:hidden">{controls}</div>
          <Close />
        </div>
      </dialog>
      <dialog ref={help} className="modal text-base-content" aria-label="Shortcuts">
        <div className="modal-box">
          <h2 className="mb-3">Shortcuts</h2>
          <dl className="grid grid-cols-[5rem_1fr] gap-y-1">
            {SHORTCUTS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="kbd">{key}</kbd>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <Close />
        </div>
      </dialog>
      <dialog ref={account} className="modal text-base-content" aria-label="Account">
        <div className="modal-box">
          <h2>{session.name}</h2>
          <p className="quiet mb-4">
            {session.username}, {session.role}
          </p>
          <ChoosePassword />
          {session.role !== 'viewer' && <ChoosePin />}
          <form method="dialog" className="modal-action">
            <button type="button" className="btn" onClick={leave}>
              Sign out
            </button>
            <button type="submit" className="btn btn-primary">
              Close
            </button>
          </form>
        </div>
      </dialog>
    </div>
  )
}

function Close() {
  return (
    <form method="dialog" className="modal-action">
      <button type="submit" className="btn">
        Close
      </button>
    </form>
  )
}
