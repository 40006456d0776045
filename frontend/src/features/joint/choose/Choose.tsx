import type { ComponentType } from 'react'
import { Link } from 'react-router'
import type { ChooseProps } from '../forms'

/** What is missing first, with where to enter it; then the parts, by the form of this kind of joint. */
export function Choose({ Form, ...props }: ChooseProps & { Form: ComponentType<ChooseProps> }) {
  const found = props.joint.query.data
  if (!found) return null
  if (!found.missing.length) return <Form {...props} />
  return (
    <div className="max-w-2xl text-lg">
      <h1>Not enough is measured yet</h1>
      <ul className="mt-3 list-disc pl-6">
        {found.missing.map((m) => (
          <li key={m.path + m.message}>
            <Link
              className="link"
              to={`/joints/${found.ref}/${m.path.startsWith('/card') ? 'card' : 'measure'}`}
            >
              {place(m.path)}
              {m.message}
            </Link>
          </li>
        ))}
      </ul>
    </div>
  )
}

function place(path: string): string {
  const layer = /^\/trace\/(?:ends\/([ABC])\/)?cable\/(outer_jacket|inner_jacket|core)/.exec(path)
  if (layer)
    return `${layer[1] ? `cable of ${layer[1]}, ` : ''}${(layer[2] ?? '').replace('_', ' ').replace('core', 'matrix or overlay')}: `
  const end = /^\/ends\/([AB])(?:\/cores\/(\d))?/.exec(path)
  if (!end) return ''
  return `End ${end[1]}${end[2] ? `, core ${Number(end[2]) + 1}` : ''}: `
}
