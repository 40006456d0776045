/** A row of tabs; one that is not good yet says so by colour and sign. */
interface Tab {
  id: string
  title: string
  good: boolean
}

interface Props {
  label: string
  tabs: Tab[]
  at: string | undefined
  onTab: (id: string) => void
}

export function Tabs({ label, tabs, at, onTab }: Props) {
  return (
    <div role="tablist" aria-label={label} className="flex flex-wrap gap-x-6">
      {tabs.map((t) => (
        <button
          key={t.id}
          type="button"
          role="tab"
          aria-selected={t.id === at}
          className={`min-h-11 border-b-3 text-lg ${t.id === at ? 'border-primary font-bold' : 'border-transparent font-medium'} ${t.good ? '' : 'text-error'}`}
          onClick={() => onTab(t.id)}
        >
          {t.title}
          {!t.good && ' ✕'}
        </button>
      ))}
    </div>
  )
}
