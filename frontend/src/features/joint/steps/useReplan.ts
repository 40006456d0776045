import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { ApiError, api, take } from '../../../api/client'

/** A new revision from what was measured at the joint; needs the server. */
export function useReplan(ref: string) {
  const client = useQueryClient()
  const [told, setTold] = useState<{ words: string[]; fault: boolean } | null>(null)
  const replan = async () => {
    try {
      const joint = await take(api.GET('/api/v1/joints/{ref}', { params: { path: { ref } } }))
      const plan = await take(
        api.POST('/api/v1/joints/{ref}/plans', {
          params: { path: { ref }, header: { 'If-Match': `"${joint.version}"` } },
        }),
      )
      const words = plan.differences.length ? plan.differences : ['nothing but the steps that ask again']
      setTold({ words: [`Revision ${plan.number}.`, ...words], fault: false })
      await Promise.all(
        ['work', 'joint', 'look'].map((k) => client.invalidateQueries({ queryKey: [k, ref] })),
      )
    } catch (fault) {
      const words =
        fault instanceof ApiError && !fault.offline
          ? fault.problem.detail
          : 'A new plan needs the server. The reading is kept; plan again when the connection is back.'
      setTold({ words: [words], fault: true })
    }
  }
  return { replan, told, clear: () => setTold(null) }
}
