import { Link } from "react-router";
import { Mark } from "../../ui/Mark";
import type { Found } from "./finding";

type Props = {
  found: Found["found"];
  /** tags that are chosen; none where nothing may be done with them */
  chosen: Set<string> | null;
  onChoose: (tags: string[], on: boolean) => void;
};

const RANGE = "Range and tolerance";
const HEADS = ["Tag", "What it measures", RANGE, "Last result", "Next due"];

/** The instruments of a page; a line is chosen by its box. */
export function FoundTable({ found, chosen, onChoose }: Props) {
  const tags = found.map((i) => i.tag);
  const all = chosen !== null && tags.every((tag) => chosen.has(tag));
  return (
    <div className="relative overflow-x-auto rounded-2xl border border-line bg-card">
      <table className="w-full text-left">
        <thead className="text-[14px] text-muted">
          <tr>
            {chosen && (
              <th scope="col" className="p-0 font-normal">
                <Box label="All of this page" on={all} onChange={() => onChoose(tags, !all)} />
              </th>
            )}
            {HEADS.map((head) => (
              <th
                key={head}
                scope="col"
                className={`px-4 py-2 font-normal ${head === RANGE ? "max-sm:hidden" : ""}`}
              >
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {found.map((i) => (
            <tr key={i.tag} className="border-t border-line hover:bg-sunk">
              {chosen && (
                <td className="p-0">
                  <Box
                    label={`Choose ${i.tag}`}
                    on={chosen.has(i.tag)}
                    onChange={() => onChoose([i.tag], !chosen.has(i.tag))}
                  />
                </td>
              )}
              <td className="p-0">
                <Link
                  to={`/instruments/${encodeURIComponent(i.tag)}`}
                  className="block px-4 py-3 text-lg font-semibold whitespace-nowrap"
                >
                  {i.tag}
                </Link>
              </td>
              <td className="px-4">
                {i.description}
                <span className="block text-[14px] text-muted">{i.area}</span>
              </td>
              <td className="digits px-4 text-[15px] max-sm:hidden">
                {i.range}
                <span className="block text-[14px] text-muted">{i.tolerance}</span>
              </td>
              <td className="px-4">
                <Mark mark={i.last_mark} words />
                <span className="digits block text-[14px] whitespace-nowrap text-muted">
                  {i.last_on}
                </span>
              </td>
              <td className="digits px-4 whitespace-nowrap">{i.next_due || "no day"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Box({ label, on, onChange }: { label: string; on: boolean; onChange: () => void }) {
  return (
    <label className="grid size-11 cursor-pointer place-items-center">
      <input
        type="checkbox"
        aria-label={label}
        checked={on}
        onChange={onChange}
        className="size-5 accent-accent"
      />
    </label>
  );
}
