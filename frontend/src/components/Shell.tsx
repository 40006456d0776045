import { NavLink, Outlet } from 'react-router'
import { useMay } from '../session'
import { Unbroken } from './Broken'
import { Knot } from './Knot'
import { OutboxSign } from './OutboxSign'
import { Tools } from './Tools'

/** The bar over every page but the joint's own, which brings its ribbon. */
export function Shell() {
  const admin = useMay('admin')
  const places: [string, string][] = [
    ['/', 'Lines'],
    ['/fit', 'Fit check'],
    ['/stock', 'Stock'],
    ['/sheets', 'Kit sheets'],
    ['/tools', 'Tools'],
    ['/register', 'Register'],
    ['/rules', 'Rules'],
    ...(admin ? ([['/people', 'People']] as [string, string][]) : []),
  ]
  return (
    <div className="flex min-h-dvh flex-col">
      <header className="no-print bg-neutral text-neutral-content">
        <div className="flex flex-wrap items-center gap-x-6 px-4 md:px-6">
          <NavLink to="/" className="flex items-center gap-3 py-3 text-xl font-bold">
            <Knot /> Tin Knot
          </NavLink>
          <nav aria-label="Main" className="flex flex-wrap gap-x-5">
            {places.map(([to, name]) => (
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
