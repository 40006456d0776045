import { type KeyboardEvent, type ReactNode, useId, useRef } from 'react'

interface Tab {
  id: string
  title: string
  /** What is behind it is not good yet: said by colour and sign. */
  bad?: boolean
}

interface Props {
  label: string
  tabs: Tab[]
  at: string | undefined
  onTab: (id: string) => void
  /** What the tab chosen shows. */
  children: ReactNode
}

const STEP: Record<string, (at: number, many: number) => number> = {
  ArrowRight: (at, many) => (at + 1) % many,
  ArrowLeft: (at, many) => (at + many - 1) % many,
  Home: () => 0,
  End: (_at, many) => many - 1,
}

const MANY = 8

/** A row of tabs over what the one chosen shows; arrow keys go along the row. Many of them are a list to choose from
 *  where the screen is narrow. */
export function Tabs({ label, tabs, at, onTab, children }: Props) {
  const id = useId()
  const row = useRef<HTMLDivElement>(null)
  const now = Math.max(
    0,
    tabs.findIndex((t) => t.id === at),
  )
  const press = (e: KeyboardEvent) => {
    const to = STEP[e.key]?.(now, tabs.length)
    const tab = to === undefined ? undefined : tabs[to]
    if (to === undefined || !tab) return
    e.preventDefault()
    onTab(tab.id)
    row.current?.querySelectorAll<HTMLElement>('[role=tab]')[to]?.focus()
  }
  const many = tabs.length > MANY
  return (
    <>
      {many && (
        <select
          className="select w-full text-lg font-semibold md:hidden"
          aria-label={label}
          value={tabs[now]?.id}
          onChange={(e) => onTab(e.target.value)}
        >
          {tabs.map((t) => (
            <option key={t.id} value={t.id}>
              {t.title}
              {t.bad && ' ✕'}
            </option>
          ))}
        </select>
      )}
      <div
        ref={row}
        role="tablist"
        aria-label={label}
        className={`${many ? 'hidden md:flex' : 'flex'} flex-wrap gap-x-1 border-b border-base-300`}
        onKeyDown={press}
      >
        {tabs.map((t, i) => (
          <button
            key={t.id}
            id={`${id}-${i}`}
            type="button"
            role="tab"
            aria-selected={i === now}
            aria-controls={`${id}-panel`}
            tabIndex={i === now ? 0 : -1}
            className={`-mb-px min-h-11 border border-b-3 px-3 text-lg ${
              i === now
                ? 'border-x-base-300 border-t-base-300 border-b-primary bg-base-100 font-bold'
                : 'border-transparent font-medium hover:bg-base-100'
            } ${t.bad ? 'text-error' : ''}`}
            onClick={() => onTab(t.id)}
          >
            {t.title}
            {t.bad && ' ✕'}
          </button>
        ))}
      </div>
      <div id={`${id}-panel`} role="tabpanel" aria-labelledby={`${id}-${now}`} className="min-w-0">
        {children}
      </div>
    </>
  )
}
