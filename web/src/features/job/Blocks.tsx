import type { Schemas } from "../../api/client";
import { clock, useNow } from "../../ui/time";
import { Wiring } from "./Wiring";

type Block = Schemas["Block"];

/** What a family shows, in the few ways in which anything is shown. */
export function Blocks({ blocks }: { blocks: readonly Block[] }) {
  return blocks.map((block, i) => <One key={`${block.kind}${i}`} block={block} />);
}

function One({ block }: { block: Block }) {
  switch (block.kind) {
    case "rows":
      return <Rows block={block} />;
    case "table":
      return <Table block={block} />;
    case "timer":
      return <Timer block={block} />;
    case "wiring":
      return <Wiring block={block} />;
    case "text":
      return <p className="text-[15px]">{block.text}</p>;
  }
}

function Rows({ block }: { block: Block }) {
  return (
    <dl className="grid grid-cols-[76px_1fr] gap-x-2 rounded-xl bg-sunk px-3 py-2 text-[14.5px]">
      {block.rows.map((row) => (
        <div key={row.label} className="contents">
          <dt className="text-muted">{row.label}</dt>
          <dd className={row.strong ? "text-[18px] font-semibold" : ""}>{row.value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** A wait that the person keeps, without a device to ask. */
function Timer({ block }: { block: Block }) {
  const left = Date.parse(block.ends_at) - useNow();
  return (
    <div className="rounded-xl bg-live px-4 py-3 text-live-ink">
      <p className="digits text-[38px] leading-none font-semibold" role="timer">
        {clock(left)}
      </p>
      <p className="mt-1.5 text-[14px] text-live-muted">{left > 0 ? block.title : block.text}</p>
    </div>
  );
}

function Table({ block }: { block: Block }) {
  return (
    <table className="w-full text-[14px]" aria-label={block.title}>
      <thead>
        <tr className="text-left text-muted">
          {block.columns.map((name, n) =>
            name ? (
              <th key={n} className="py-1 pr-2 font-normal">
                {name}
              </th>
            ) : (
              <td key={n} />
            ),
          )}
        </tr>
      </thead>
      <tbody>
        {block.cells.map((row, i) => (
          <tr key={i} className={`border-t border-line ${MARKED[block.marks[i] ?? ""] ?? ""}`}>
            {row.map((cell, n) => (
              <td key={n} className="py-1 pr-2 align-top tabular-nums">
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const MARKED: Record<string, string> = { outside: "font-semibold text-outside" };
