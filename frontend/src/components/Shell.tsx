import { NavLink, Outlet, useLocation } from 'react-router'
import { Unbroken } from './Broken'
import { Knot } from './Knot'
import { OutboxSign } from './OutboxSign'
import { usePlaces } from './places'
import { Tools } from './Tools'

/** The bar over every page but the joint's own, which brings its ribbon. */
export function Shell() {
  const places = usePlaces()
  const { pathname } = useLocation()
  const here = places.find((p) => p.to !== '/' && pathname.startsWith(p.to)) ?? places[0]
  return (
    <div className="flex min-h-dvh flex-col">
      <header className="no-print bg-neutral text-neutral-content">
        <div className="flex items-center gap-x-4 px-4 md:flex-wrap md:gap-x-6 md:px-6">
          <NavLink to="/" className="flex items-center gap-3 py-3 text-xl font-bold">
            <Knot /> <span className="max-md:sr-only">Tin Knot</span>
          </NavLink>
          <span className="truncate text-lg font-medium md:hidden">{here?.name}</span>
          <nav aria-label="Main" className="hidden flex-wrap gap-x-5 md:flex">
            {places.map(({ to, name }) => (
              <NavLink
                key={to}
                to={to}
                end={to === '/'}
                className={({ isActive }) =>
                  `border-b-3 py-3 text-lg font-medium ${isActive ? 'border-[#d98326]' : 'border-transparent'}`
                }
              >
                {name}
              </NavLink>
            ))}
          </nav>
          <span className="ml-auto">
            <OutboxSign />
          </span>
          <Tools />
        </div>
      </header>
      <Unbroken>
        <Outlet />
      </Unbroken>
    </div>
  )
}
