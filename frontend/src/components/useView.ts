/** A drawing that two fingers stretch and one slides: how much it is enlarged, and which of its mm is in the middle. */
import { type PointerEvent, useRef, useState } from 'react'

export interface View {
  zoom: number
  middle: number
}

const MOST = 8
const STILL = 6 // px a finger may move and still have touched

/** A view kept inside what there is to see: at most eight times as large, never beyond the drawing's ends. */
export function held(view: View, [low, high]: readonly [number, number]): View {
  const zoom = Math.min(MOST, Math.max(1, view.zoom))
  const half = (high - low) / 2 / zoom
  return { zoom, middle: Math.min(high - half, Math.max(low + half, view.middle)) }
}

/** The view after two fingers went from `before` to `after` (their x, px from the drawing's middle): what lay between
 *  them lies between them still. */
export function pinched(
  view: View,
  before: readonly [number, number],
  after: readonly [number, number],
  scale: number,
): View {
  const apart = ([a, b]: readonly [number, number]) => Math.max(1, Math.abs(a - b))
  const zoom = Math.min(MOST, Math.max(1, (view.zoom * apart(after)) / apart(before)))
  const between = ([a, b]: readonly [number, number]) => (a + b) / 2
  const mm = view.middle + between(before) / (scale * view.zoom)
  return { zoom, middle: mm - between(after) / (scale * zoom) }
}

/** The hands on a drawing of `range` mm at `scale` px a mm (not enlarged). `touched` is told where a finger came down
 *  and left, px from the left; a mouse points as before. */
export function useView(range: readonly [number, number], scale: number, touched: (px: number) => void) {
  const whole: View = { zoom: 1, middle: (range[0] + range[1]) / 2 }
  const [view, setView] = useState<View | null>(null)
  const fingers = useRef(new Map<number, number>())
  const moved = useRef(0)
  const now = held(view ?? whole, range)
  /** From what it is by then: fingers move faster than the page is drawn. */
  const change = (to: (from: View) => View) => setView((from) => held(to(held(from ?? whole, range)), range))
  const place = (e: PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect()
    return { px: e.clientX - box.left, off: e.clientX - box.left - box.width / 2 }
  }
  const down = (e: PointerEvent<SVGSVGElement>) => {
    const { px, off } = place(e)
    if (e.pointerType !== 'touch') return touched(px)
    if (fingers.current.size === 0) moved.current = 0
    fingers.current.set(e.pointerId, off)
  }
  const move = (e: PointerEvent<SVGSVGElement>) => {
    const { px, off } = place(e)
    if (e.pointerType !== 'touch') return touched(px)
    const was = fingers.current.get(e.pointerId)
    if (was === undefined) return
    const others = [...fingers.current].filter(([id]) => id !== e.pointerId)
    moved.current += Math.abs(off - was) + (others.length ? STILL : 0)
    const other = others[0]?.[1]
    if (other !== undefined) change((from) => pinched(from, [other, was], [other, off], scale))
    else if (now.zoom > 1)
      change((from) => ({ ...from, middle: from.middle - (off - was) / (scale * from.zoom) }))
    else touched(px)
    fingers.current.set(e.pointerId, off)
  }
  const up = (e: PointerEvent<SVGSVGElement>) => {
    if (fingers.current.delete(e.pointerId) && moved.current <= STILL) touched(place(e).px)
  }
  return {
    view: now,
    enlarge: (by: number) => change((from) => ({ ...from, zoom: from.zoom * by })),
    reset: () => setView(null),
    hands: { onPointerDown: down, onPointerMove: move, onPointerUp: up, onPointerCancel: up },
  }
}
