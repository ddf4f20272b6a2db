import type { Schemas } from "../../api/client";

type Block = Schemas["Block"];

const LINE: Record<string, string> = {
  within: "stroke-within",
  near: "stroke-accent",
  none: "stroke-line",
  outside: "stroke-outside",
};

/** What goes where, in order: each plug, its socket, and the line between them. */
export function Wiring({ block }: { block: Block }) {
  return (
    <figure aria-label={block.title} className="rounded-xl bg-sunk p-3 text-[14px]">
      <figcaption className="mb-1.5 text-muted">{block.title}</figcaption>
      <ol className="grid gap-1.5">
        {block.cells.map(([plug, socket, there], n) => {
          const mark = block.marks[n] ?? "none";
          const now = mark === "near";
          return (
            <li
              key={plug}
              aria-current={now ? "step" : undefined}
              className="grid grid-cols-[1fr_36px_1.35fr] items-center"
            >
              <span
                className={`rounded-l-full rounded-r-md border-2 bg-card py-1.5 pr-1.5 pl-3 leading-tight ${now ? "border-accent font-semibold" : "border-line"}`}
              >
                <span className="digits text-muted">{n + 1}</span> {plug}
              </span>
              <svg viewBox="0 0 36 24" className="h-6 w-full" aria-hidden="true">
                <path
                  d="M0 12 C12 12 10 4 18 4 S24 12 36 12"
                  className={`fill-none ${LINE[mark] ?? "stroke-line"}`}
                  strokeWidth={now ? 4 : 3}
                  strokeDasharray={mark === "none" ? "3 4" : undefined}
                />
              </svg>
              <span
                className={`rounded-md border-2 px-2 py-1.5 leading-tight ${now ? "border-accent" : "border-line"}`}
              >
                {socket}
                {there && <span className="sr-only">: {there}</span>}
                {there && (
                  <span aria-hidden="true" className="float-right text-within">
                    ✓
                  </span>
                )}
              </span>
            </li>
          );
        })}
      </ol>
    </figure>
  );
}
