import type { Schemas } from "../../api/client";
import { Choose } from "../../ui/Choose";
import { SearchBox } from "../../ui/SearchBox";
import { EVERYTHING, type Filter } from "./filtering";

type Props = { today: Schemas["TodayOut"]; filter: Filter; onFilter: (f: Filter) => void };

const ONLY = [
  ["mine", "Mine"],
  ["failed", "Failed"],
] as const;

/** Search and filters of today's list. */
export function Filters({ today, filter, onFilter }: Props) {
  const look = (change: Partial<Filter>) => onFilter({ ...filter, page: 1, ...change });
  const filtering = filter.q || filter.area || filter.kind || filter.only;
  return (
    <div role="search" className="mb-4 flex flex-wrap gap-2">
      <div className="min-w-52 flex-1 basis-full sm:basis-auto">
        <SearchBox
          label="Tag, words or area"
          value={filter.q}
          focus={false}
          onChange={(q) => look({ q })}
        />
      </div>
      <Choose
        label="All areas"
        value={filter.area}
        choices={today.area_names}
        onChange={(area) => look({ area })}
      />
      <Choose
        label="All kinds"
        value={filter.kind}
        choices={today.kinds}
        onChange={(kind) => look({ kind })}
      />
      {ONLY.map(([id, label]) => (
        <button
          key={id}
          type="button"
          aria-pressed={filter.only === id}
          onClick={() => look({ only: filter.only === id ? "" : id })}
          className="min-h-11 flex-1 rounded-xl border border-line bg-card px-4 sm:flex-none aria-pressed:border-accent aria-pressed:bg-accent-soft"
        >
          {label}
        </button>
      ))}
      {filtering && (
        <button
          type="button"
          onClick={() => onFilter(EVERYTHING)}
          className="min-h-11 px-2 underline underline-offset-4"
        >
          Show all
        </button>
      )}
    </div>
  );
}
