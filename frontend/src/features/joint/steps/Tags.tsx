import type { Tag } from '../../../model/ringing'

/** What to write on the tag of every core that is told apart so far. */
export function Tags({ tags, walked }: { tags: Tag[]; walked: boolean }) {
  if (!tags.length) return null
  return (
    <section aria-label="Tags">
      <h3 className="text-xl font-semibold">Write on the tags</h3>
      <p className="quiet text-sm">
        {walked
          ? 'The terminal with the same two numbers is the other end of this core.'
          : 'The terminal it rang at, at the far end.'}
      </p>
      <ul className="mt-1 flex flex-wrap gap-2">
        {tags.map((t) => (
          <li key={t.core} className="border border-current px-3 py-1 text-lg">
            {t.core}: <b className="whitespace-nowrap">{t.says}</b>
          </li>
        ))}
      </ul>
    </section>
  )
}
