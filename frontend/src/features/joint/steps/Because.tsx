/** A reason, by one touch or typed; it stands in the record under the name of whoever confirms. */
export function Because({ reasons, keep }: { reasons: string[]; keep: (reason: string) => void }) {
  return (
    <div className="mt-2 flex flex-col gap-2">
      {reasons.map((r) => (
        <button key={r} type="button" className="btn min-h-12 justify-start" onClick={() => keep(r)}>
          … {r}
        </button>
      ))}
      <input
        className="input min-h-12 w-full"
        aria-label="Another reason"
        placeholder="another reason, then Enter"
        onKeyDown={(e) => {
          if (e.key === 'Enter' && e.currentTarget.value.trim()) keep(e.currentTarget.value.trim())
        }}
      />
    </div>
  )
}
