import type { ReactNode } from 'react'
import { Knot } from '../components/Knot'

/** The page before the bench: one form, and what the tool is not. */
export function Door({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="min-h-dvh bg-neutral text-neutral-content">
      <main className="mx-auto grid max-w-4xl gap-10 p-6 pt-[12vh] md:grid-cols-2">
        <div>
          <p className="flex items-center gap-3 text-3xl font-bold">
            <Knot /> Tin Knot
          </p>
          <p className="mt-4 text-xl">From two measured cable ends to a sealed, proved and signed joint.</p>
          <p className="mt-6 max-w-sm text-sm opacity-85">
            Not a substitute for local codes or a licensed person. Before any cut: identify the cable, isolate
            every feed at both ends, lock, prove dead.
          </p>
        </div>
        <section className="bg-base-100 p-6 text-base-content">
          <h1 className="mb-4">{title}</h1>
          {children}
        </section>
      </main>
    </div>
  )
}
