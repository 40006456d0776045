import { Component, type ReactNode } from 'react'
import { useLocation } from 'react-router'

interface Props {
  place: string
  children: ReactNode
}

/** What of a page is shown when it breaks: what happened, that nothing is lost, and what can be done. */
class Boundary extends Component<Props, { fault: Error | null; place: string }> {
  state = { fault: null, place: this.props.place }

  static getDerivedStateFromError(fault: Error) {
    return { fault }
  }

  static getDerivedStateFromProps(props: Props, state: { place: string }) {
    return props.place === state.place ? null : { fault: null, place: props.place } // another page is whole again
  }

  render() {
    const fault = this.state.fault as Error | null
    if (!fault) return this.props.children
    return (
      <main className="mx-auto w-full max-w-2xl p-6">
        <div className="fault" role="alert">
          <h1>This page has broken</h1>
          <p className="mt-2 text-lg">
            What you confirmed and typed is kept on this device and on the server. Load the page again; if it
            breaks again, go back to the lines and tell an admin these words:
          </p>
          <p className="quiet mt-2 break-words">{String(fault.message || fault)}</p>
          <div className="mt-4 flex flex-wrap gap-3">
            <button
              type="button"
              className="btn btn-primary min-h-12"
              onClick={() => globalThis.location.reload()}
            >
              Load it again
            </button>
            <a className="btn min-h-12" href="/">
              Back to the lines
            </a>
          </div>
        </div>
      </main>
    )
  }
}

/** Round every route: one page that breaks takes no other with it. */
export function Unbroken({ children }: { children: ReactNode }) {
  const { pathname } = useLocation()
  return <Boundary place={pathname}>{children}</Boundary>
}
