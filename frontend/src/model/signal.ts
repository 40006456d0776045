/** Something that is told, and those who want to know. */
export function signal() {
  const listeners = new Set<() => void>()
  return {
    tell: () => {
      for (const listener of listeners) listener()
    },
    /** Returns what ends the listening. */
    on: (listener: () => void) => {
      listeners.add(listener)
      return () => void listeners.delete(listener)
    },
  }
}
