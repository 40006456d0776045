/** What a kind of joint is filled in with: by the form its family names, never by the family itself. */
import type { UseQueryResult } from '@tanstack/react-query'
import { useQuery } from '@tanstack/react-query'
import type { ComponentType } from 'react'
import { api, type Draft, keptAnswer, type Schemas, take } from '../../api/client'
import type { useJoint } from './useJoint'
import type { Work } from './useWork'

export type Kind = Schemas['FamilyOut']

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

/** The kinds of joint there are; kept on the device for when there is no connection. */
export function useKinds(): Kind[] {
  const found = useQuery({
    queryKey: ['families'],
    queryFn: () => keptAnswer('families', () => take(api.GET('/api/v1/families'))),
    staleTime: Number.POSITIVE_INFINITY,
  })
  return found.data?.items ?? []
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
