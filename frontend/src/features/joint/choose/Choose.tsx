import type { ComponentType } from 'react'
import { Link } from 'react-router'
import { placeSaid } from '../../../model/place'
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
              {`${placeSaid(m.path)}: ${m.message}`}
            </Link>
          </li>
        ))}
      </ul>
    </div>
  )
}
