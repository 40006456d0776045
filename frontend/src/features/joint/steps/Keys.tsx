import type { ReactNode } from 'react'

export const KEY = 'btn h-16 !text-2xl'

/** Keys for gloves, three in a row, with room for a few more behind them. */
export function Keys({
  keys,
  press,
  children,
}: {
  keys: string[]
  press: (key: string) => void
  children?: ReactNode
}) {
  return (
    <div className="grid grid-cols-3 gap-2">
      {keys.map((k) => (
        <button key={k} type="button" className={KEY} onClick={() => press(k)}>
          {k}
        </button>
      ))}
      {children}
    </div>
  )
}
