type Props = {
  tabs: readonly (readonly [id: string, label: string])[];
  shown: string;
  onShow: (id: string) => void;
};

/** The parts of a page beside its heading. */
export function Tabs({ tabs, shown, onShow }: Props) {
  return (
    <div role="tablist" aria-label="What is shown" className="flex flex-wrap gap-1">
      {tabs.map(([id, label]) => (
        <button
          key={id}
          type="button"
          role="tab"
          aria-selected={shown === id}
          onClick={() => onShow(id)}
          className="min-h-11 rounded-lg px-4 text-muted aria-selected:bg-ink aria-selected:text-paper"
        >
          {label}
        </button>
      ))}
    </div>
  );
}
