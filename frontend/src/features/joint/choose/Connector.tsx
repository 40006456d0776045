import { useQuery } from '@tanstack/react-query'
import { api, type Draft, type Schemas, take } from '../../../api/client'
import { Field } from '../../../components/fields'
import type { useJoint } from '../useJoint'

interface Props {
  joint: ReturnType<typeof useJoint>
  draft: Draft
  /** Every connector of the stock with whether it serves this joint, and why not. */
  offers: Schemas['OfferOut'][] | undefined
}

/** The connector settled on, or left to be chosen; what does not serve says why. */
export function Connector({ joint, draft, offers }: Props) {
  const stock = useQuery({
    queryKey: ['stock', false],
    queryFn: () => take(api.GET('/api/v1/stock', { params: { query: {} } })),
  })
  const areas = [...(draft.ends?.A?.cores ?? []), ...(draft.ends?.B?.cores ?? [])].map((c) => c.area_mm2 ?? 0)
  const suiting = stock.data?.items.filter((p) => {
    const low = Number(p.figures.area_least_mm2 ?? 0)
    const high = Number(p.figures.area_most_mm2 ?? 1e6)
    return p.kind === 'connector' && areas.every((a) => a >= low && a <= high)
  })
  const why = (id: string) => offers?.find((o) => o.id === id && !o.serves)?.reason ?? ''
  return (
    <Field label="Connector" hint="The slimmest that suits every core is taken by itself">
      {({ id }) => (
        <select
          id={id}
          className="select w-full"
          value={draft.connector?.part_id ?? ''}
          onChange={(e) => joint.edit({ connector: e.target.value ? { part_id: e.target.value } : null })}
        >
          <option value="">chosen from stock</option>
          {suiting?.map((p) => (
            <option key={p.part_id} value={p.part_id} disabled={why(p.part_id) !== ''}>
              {String(p.figures.name ?? p.part_id)}:{' '}
              {why(p.part_id)
                ? `no, ${why(p.part_id)}`
                : `⌀ ${String(p.figures.od_mm)}, ${p.on_hand - p.reserved} free`}
            </option>
          ))}
        </select>
      )}
    </Field>
  )
}
