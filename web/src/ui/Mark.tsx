const MARKS = {
  within: { word: "within", said: "within limits", className: "text-within" },
  near: { word: "close", said: "within limits, but close", className: "text-edge" },
  outside: { word: "outside", said: "outside limits", className: "text-outside" },
} as const;

type Props = { mark: string; words?: boolean; className?: string };

/** A verdict by shape: full disc within, half disc close to the limit, open diamond outside. */
export function Mark({ mark, words = false, className = "" }: Props) {
  if (!(mark in MARKS)) return null;
  const { word, said, className: colour } = MARKS[mark as keyof typeof MARKS];
  return (
    <span className={`inline-flex items-center gap-1.5 ${colour} ${className}`}>
      <svg viewBox="0 0 16 16" className="size-[0.95em] shrink-0" role="img" aria-label={said}>
        {mark === "within" && <circle cx="8" cy="8" r="6" fill="currentColor" />}
        {mark === "near" && (
          <>
            <circle cx="8" cy="8" r="5.6" fill="none" stroke="currentColor" strokeWidth="1.8" />
            <path d="M8 2.4a5.6 5.6 0 0 0 0 11.2z" fill="currentColor" />
          </>
        )}
        {mark === "outside" && (
          <path d="M8 1.4 14.6 8 8 14.6 1.4 8z" fill="none" stroke="currentColor" strokeWidth="2" />
        )}
      </svg>
      {words && <span aria-hidden="true">{word}</span>}
    </span>
  );
}
