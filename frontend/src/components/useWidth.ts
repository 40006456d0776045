import { useLayoutEffect, useRef, useState } from 'react'

/** How wide a part of the page is, px, as it changes; `begin` until it is known. */
export function useWidth<Node extends HTMLElement = HTMLDivElement>(begin: number) {
  const ref = useRef<Node>(null)
  const [width, setWidth] = useState(begin)
  useLayoutEffect(() => {
    const node = ref.current
    if (!node) return
    const watch = new ResizeObserver(([entry]) => entry && setWidth(Math.max(200, entry.contentRect.width)))
    watch.observe(node)
    return () => watch.disconnect()
  }, [])
  return { ref, width }
}
