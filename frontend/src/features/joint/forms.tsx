/** What a kind of joint is filled in with: by the form its family names, never by the family itself. */
import type { UseQueryResult } from '@tanstack/react-query'
import type { ComponentType } from 'react'
import type { Draft, Schemas } from '../../api/client'
import type { Kind } from '../../components/useKinds'
import type { useJoint } from './useJoint'
import type { Work } from './useWork'

export interface FormProps {
  joint: ReturnType<typeof useJoint>
  draft: Draft
  kind: Kind
}

export interface ChooseProps extends FormProps {
  look: UseQueryResult<Schemas['Look']>
  planned: Work | undefined
}

/** Whether an answer does not know yet what was typed last: nothing of it is to be taken then, it would bring the draft
 *  of before back. */
export const behind = (joint: ChooseProps['joint'], look: ChooseProps['look']) =>
  look.isPlaceholderData || Object.keys(joint.patch).length > 0

export interface Form {
  Measure: ComponentType<FormProps>
  Choose: ComponentType<ChooseProps>
  /** Whether two ends of a cable are joined, with sides to name and ways to build. */
  ends: boolean
}

/** The kind a draft is of; the first one where nothing is said. */
export function kindOf(kinds: Kind[], draft: Draft): Kind | undefined {
  return kinds.find((k) => k.name === draft.family) ?? kinds[0]
}

/** A change of the draft that puts a value at a place in it (a JSON Pointer). */
export function placed(draft: Draft, pointer: string, value: unknown): Schemas['JointPatch'] {
  const [top = '', ...way] = pointer.split('/').slice(1)
  const put = (at: unknown, keys: string[]): unknown => {
    const [key, ...rest] = keys
    return key === undefined
      ? value
      : { ...(at as object), [key]: put((at as Record<string, unknown>)?.[key], rest) }
  }
  return { [top]: put(draft[top as keyof Draft], way) }
}
