import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation, useNavigate, useParams } from "react-router";
import { SearchBox } from "../../ui/SearchBox";
import { ErrorBox, Loading } from "../../ui/states";
import { useLater } from "../../ui/useLater";
import { benchQueries, type Calculator, type Found } from "./api";
import { CalculatorPane } from "./CalculatorPane";
import { toAddress } from "../../ui/form/inputs";
import { recent } from "./recent";

const addressOf = (found: Found) => {
  const given = Object.entries(found.given).filter(([, value]) => value !== null);
  return `/bench/${found.name}${given.length ? `?found=1&${toAddress(Object.fromEntries(given)).toString()}` : ""}`;
};

/** Every calculator in one place, found by typing what one has in mind. */
export default function BenchPage() {
  const { name } = useParams();
  const { key, state } = useLocation();
  const visit = (state as { visit?: string } | null)?.visit ?? key;
  const [words, setWords] = useState("");
  return (
    <main className="mx-auto grid max-w-[1360px] gap-5 px-5 py-4 lg:grid-cols-[250px_minmax(0,1fr)] print:block">
      <div className="min-w-0 print:hidden">
        <h1 className="mb-2 text-[28px] leading-tight font-semibold">Bench</h1>
        <Finder key={name ? "beside" : key} words={words} setWords={setWords} focus={!name} />
        <CalculatorList current={name} searching={words.trim() !== ""} />
      </div>
      <div className="min-w-0">
        {name ? <CalculatorPane key={name + visit} name={name} visit={visit} /> : <Start />}
      </div>
    </main>
  );
}

type FinderProps = { words: string; setWords: (words: string) => void; focus: boolean };

/** The search, and what it finds; arrows choose, Enter opens. */
function Finder({ words, setWords, focus }: FinderProps) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [chosen, setChosen] = useState(0);
  const settled = useLater(words, 60);
  const found = useQuery(benchQueries.find(settled));
  const list = words.trim() ? (found.data ?? []) : [];
  const open = (hit: Found | undefined) => {
    if (!hit) return;
    setWords("");
    void navigate(addressOf(hit));
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      const step = event.key === "ArrowDown" ? 1 : -1;
      setChosen((c) => Math.max(0, Math.min(list.length - 1, c + step)));
    } else if (event.key === "Enter") {
      event.preventDefault();
      // What is on its way is waited for: Enter is never lost, nor meant for an older search.
      if (settled === words && found.isSuccess && !found.isPlaceholderData) open(list[chosen]);
      else
        void queries
          .fetchQuery(benchQueries.find(words))
          .then((hits) => open(hits[chosen] ?? hits[0]));
    } else if (event.key === "Escape") setWords("");
  };
  return (
    <div className="relative" onKeyDown={onKeyDown}>
      <SearchBox
        label="What do you need?"
        value={words}
        focus={focus}
        onChange={(text) => {
          setWords(text);
          setChosen(0);
        }}
      />
      {words.trim() !== "" && (
        <ul
          aria-label="Found"
          className="mt-2 grid gap-1 rounded-xl border border-line bg-card p-1"
        >
          {list.map((hit, n) => (
            <li key={hit.name}>
              <Link
                to={addressOf(hit)}
                onClick={() => setWords("")}
                aria-current={n === chosen ? "true" : undefined}
                className={`flex min-h-11 flex-col justify-center rounded-[10px] px-3 py-1 leading-tight ${n === chosen ? "bg-accent-soft" : "hover:bg-sunk"}`}
              >
                {hit.title}
                <GivenWords found={hit} />
              </Link>
            </li>
          ))}
          {found.isSuccess && list.length === 0 && (
            <li className="px-3 py-2 text-muted">
              Nothing fits. Try a quantity, a unit or a part of the instrument.
            </li>
          )}
        </ul>
      )}
    </div>
  );
}

function GivenWords({ found }: { found: Found }) {
  const given = Object.values(found.given).filter((v) => v !== null && v !== "");
  if (!given.length) return null;
  return <span className="digits text-[13px] text-muted">with {given.join(", ")}</span>;
}

type ListProps = { current: string | undefined; searching: boolean };

/** The ones used last, and all of them by family; at the start the families lead to their cards. */
function CalculatorList({ current, searching }: ListProps) {
  const all = useQuery(benchQueries.all);
  if (searching || !all.data) return null;
  const known = new Map(all.data.map((c) => [c.name, c]));
  const last = recent().flatMap((name) => known.get(name) ?? []);
  return (
    <nav
      aria-label="Calculators"
      className={`mt-3 ${current ? "gap-4" : "gap-0.5"} lg:grid lg:max-h-[calc(100vh-200px)] lg:overflow-y-auto ${current ? "hidden" : "grid"}`}
    >
      {last.length > 0 && <Group title="Used last" items={last} current={current} />}
      {families(all.data).map(([family, items]) =>
        current ? (
          <Group key={family} title={family} items={items} current={current} />
        ) : (
          <a
            key={family}
            href={`${window.location.pathname}#${anchorOf(family)}`}
            className="hidden min-h-11 items-center justify-between rounded-[10px] px-3 hover:bg-sunk lg:flex"
          >
            {family} <span className="digits text-[14px] text-muted">{items.length}</span>
          </a>
        ),
      )}
    </nav>
  );
}

const anchorOf = (family: string) => family.toLowerCase().replaceAll(" ", "-");

const families = (all: Calculator[]) =>
  [...new Set(all.map((c) => c.family))].map(
    (family) => [family, all.filter((c) => c.family === family)] as const,
  );

type GroupProps = { title: string; items: Calculator[]; current?: string | undefined };

function Group({ title, items, current }: GroupProps) {
  return (
    <section aria-label={title}>
      <h2 className="px-3 text-[14px] font-semibold text-muted">{title}</h2>
      <ul>
        {items.map((item) => (
          <li key={item.name}>
            <Link
              to={`/bench/${item.name}`}
              aria-current={item.name === current ? "page" : undefined}
              className={`flex min-h-11 items-center rounded-[10px] px-3 py-1 leading-tight ${item.name === current ? "bg-accent-soft font-semibold" : "hover:bg-sunk"}`}
            >
              {item.title}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

const TRY = ["250 ohm", "K 500", "Pt100 194.1 ohm", "12 mA", "LEL propane", "block and bleed"];

/** All calculators by family, and how to find one without looking. */
function Start() {
  const all = useQuery(benchQueries.all);
  return (
    <div>
      <p className="flex flex-wrap items-center gap-2 text-[15px] text-muted">
        Type it, then Enter:
        {TRY.map((text) => (
          <span key={text} className="digits rounded-lg bg-sunk px-2.5 py-1 text-ink">
            {text}
          </span>
        ))}
        <Link
          to="/bench/tables"
          className="ml-auto flex min-h-11 items-center underline underline-offset-4"
        >
          Data tables and their sources
        </Link>
      </p>
      {all.isPending && <Loading what="the calculators" />}
      {all.isError && <ErrorBox error={all.error} onRetry={() => void all.refetch()} />}
      {all.data && (
        <div className="mt-4 gap-5 sm:columns-2 lg:columns-3">
          {families(all.data).map(([family, items]) => (
            <div
              key={family}
              id={anchorOf(family)}
              className="mb-4 scroll-mt-4 break-inside-avoid rounded-xl border border-line bg-card px-1 py-3"
            >
              <Group title={family} items={items} />
            </div>
          ))}
        </div>
      )}
    </div>
  );
}
