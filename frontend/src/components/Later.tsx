import { type ComponentType, useEffect, useReducer, useState } from 'react'
import { Loading } from './notes'

type Load<P> = () => Promise<ComponentType<P>>
const there = new Map<unknown, ComponentType<never>>()

/** A component whose script comes when it is first asked for, shown as soon as it is there: a Suspense boundary
 *  would hold it back for 300 ms after its fallback. What cannot be fetched is thrown to the boundary around it. */
export function Later<P extends object>({
  of: load,
  what,
  with: props,
}: {
  of: Load<P>
  what: string
  with: P
}) {
  const Found = there.get(load) as ComponentType<P> | undefined
  const [, look] = useReducer((n: number) => n + 1, 0)
  const [fault, setFault] = useState<unknown>(null)
  useEffect(() => {
    let asked = true
    if (!there.has(load))
      load().then(
        (found) => {
          there.set(load, found as ComponentType<never>)
          if (asked) look()
        },
        (why: unknown) => asked && setFault(why),
      )
    return () => {
      asked = false
    }
  }, [load])
  if (fault) throw fault
  return Found ? <Found {...props} /> : <Loading what={what} />
}
