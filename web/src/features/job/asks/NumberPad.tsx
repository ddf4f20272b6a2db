const KEYS = ["7", "8", "9", "4", "5", "6", "1", "2", "3", "-", "0", "."];

type Props = { onKey: (key: string) => void; onNext: () => void };

/** A pad for gloves; always in sight where the pointer is a finger, below the field it fills. */
export function NumberPad({ onKey, onNext }: Props) {
  return (
    <div
      role="group"
      aria-label="Number pad"
      className="sticky bottom-0 z-[1] col-span-2 hidden grid-cols-4 gap-1.5 bg-card pb-1 pointer-coarse:grid"
    >
      <div className="col-span-3 grid grid-cols-3 gap-1.5">
        {KEYS.map((key) => (
          <button
            key={key}
            type="button"
            tabIndex={-1}
            onClick={() => onKey(key)}
            className="digits min-h-14 rounded-xl border border-line bg-card text-2xl"
          >
            {key}
          </button>
        ))}
      </div>
      <div className="grid gap-1.5">
        <button
          type="button"
          tabIndex={-1}
          onClick={() => onKey("back")}
          className="rounded-xl border border-line bg-card"
        >
          Delete
        </button>
        <button
          type="button"
          tabIndex={-1}
          onClick={onNext}
          className="row-span-2 rounded-xl bg-accent font-semibold text-on-accent"
        >
          Next
        </button>
      </div>
    </div>
  );
}
