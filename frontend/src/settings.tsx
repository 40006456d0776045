/** Units and theme: chosen once, everywhere at once. */
import { createContext, type ReactNode, useContext, useEffect, useState } from 'react'
import { keep, recallWord } from './model/device'
import type { Unit } from './model/units'

export const THEMES = [
  { id: 'tin', name: 'day' },
  { id: 'tin-night', name: 'night' },
  { id: 'tin-sun', name: 'sunlight' },
] as const
type Theme = (typeof THEMES)[number]['id']

interface Settings {
  unit: Unit
  theme: Theme
  setUnit: (unit: Unit) => void
  /** The site's unit, for a device on which nobody chose one. */
  beginWith: (unit: Unit) => void
  setTheme: (theme: Theme) => void
}

const Context = createContext<Settings | null>(null)

function kept<T extends string>(key: string, allowed: readonly T[], fallback: T): T {
  const value = recallWord(key) as T | undefined
  return value && allowed.includes(value) ? value : fallback
}

export function SettingsProvider({ children }: { children: ReactNode }) {
  const [own, setUnit] = useState<Unit | null>(() => kept<Unit | ''>('unit', ['mm', 'inch'], '') || null)
  const [site, beginWith] = useState<Unit>('mm')
  const unit = own ?? site
  const [theme, setTheme] = useState<Theme>(() =>
    kept(
      'theme',
      THEMES.map((t) => t.id),
      'tin',
    ),
  )
  useEffect(() => {
    if (own) keep('unit', own)
  }, [own])
  useEffect(() => {
    keep('theme', theme)
    document.documentElement.dataset.theme = theme
  }, [theme])
  return <Context value={{ unit, theme, setUnit, beginWith, setTheme }}>{children}</Context>
}

export function useSettings(): Settings {
  const found = useContext(Context)
  if (!found) throw new Error('settings are missing')
  return found
}
