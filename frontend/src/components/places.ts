import { useMay } from '../session'

export interface Place {
  to: string
  name: string
}

/** Where the bar and its menu lead. */
export function usePlaces(): Place[] {
  const admin = useMay('admin')
  const found = [
    { to: '/', name: 'Lines' },
    { to: '/fit', name: 'Fit check' },
    { to: '/stock', name: 'Stock' },
    { to: '/sheets', name: 'Kit sheets' },
    { to: '/tools', name: 'Tools' },
    { to: '/register', name: 'Register' },
    { to: '/rules', name: 'Rules' },
  ]
  return admin ? [...found, { to: '/people', name: 'People' }] : found
}
