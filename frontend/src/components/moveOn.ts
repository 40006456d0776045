import type { KeyboardEvent } from 'react'

const FIELDS =
  'input:not([type=checkbox]):not([type=radio]):not([type=file]):not([disabled]), select:not([disabled])'

/** On Enter to the next field of the page, as a calliper, a tester or a scanner that types expects after its figure. In
 *  a form with a button of its own Enter sends the form, as everywhere. */
export function moveOn(e: KeyboardEvent<HTMLInputElement>): void {
  if (e.key !== 'Enter' || e.currentTarget.form?.querySelector('[type=submit]')) return
  e.preventDefault()
  const all = [...(e.currentTarget.closest('main') ?? document).querySelectorAll<HTMLElement>(FIELDS)]
  const next = all[all.indexOf(e.currentTarget) + 1]
  next?.focus()
  if (next instanceof HTMLInputElement) next.select()
}
