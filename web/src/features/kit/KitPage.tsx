import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { Page } from "../../ui/Page";
import { Pager } from "../../ui/Pager";
import { part } from "../../ui/part";
import { SearchBox } from "../../ui/SearchBox";
import { Empty, ErrorBox, Loading } from "../../ui/states";
import { Tabs } from "../../ui/Tabs";
import { moment } from "../../ui/time";
import { counted, kitQueries, type Cylinder, type Listed, type Sensor } from "./api";
import { References } from "./References";

const NewThing = part(() => import("./NewThing"));

/** The gas on the shelf, what each cylinder serves and was used with, and sensors to order. */
export default function KitPage({ user }: { user: Me }) {
  const [making, setMaking] = useState(false);
  const [params, setParams] = useSearchParams();
  const asked = params.get("show");
  const shown = asked === "sensors" || asked === "references" ? asked : "gas";
  const q = params.get("q") ?? "";
  const page = Number(params.get("page") ?? "1") || 1;
  const look = (change: Record<string, string>) => {
    const next = { ...Object.fromEntries(params), page: "", ...change };
    setParams(Object.fromEntries(Object.entries(next).filter(([, v]) => v)), { replace: true });
  };
  const list = { q, page, onPage: (to: number) => look({ page: String(to) }) };
  const tabs = [
    ["gas", "Gas"],
    ["references", "References"],
    ["sensors", "Sensors to order"],
  ] as const;
  return (
    <Page
      title="Kit"
      aside={
        <>
          <Tabs
            tabs={tabs}
            shown={shown}
            onShow={(id) => setParams(id === "gas" ? {} : { show: id })}
          />
          {shown !== "sensors" && (
            <SearchBox
              label={
                shown === "gas"
                  ? "Number, contents, lot or certificate"
                  : "Number, words, serial or certificate"
              }
              focus={false}
              value={q}
              onChange={(words) => look({ q: words, c: "" })}
            />
          )}
          <a
            href="api/v1/sheets/labels/kit"
            target="_blank"
            rel="noreferrer"
            className="min-h-11 py-2.5 underline"
          >
            Labels
          </a>
          {user.can.includes("kit.setup") && (
            <span className="ml-auto">
              <Button onClick={() => setMaking(true)}>New in the kit</Button>
            </span>
          )}
          {making && <NewThing onClose={() => setMaking(false)} />}
        </>
      }
    >
      {shown === "gas" && <Shelf {...list} />}
      {shown === "references" && <References {...list} />}
      {shown === "sensors" && <Sensors {...list} />}
    </Page>
  );
}

function Shelf({ q, page, onPage }: Listed) {
  const shelf = useQuery(kitQueries.shelf({ q, page }));
  const [params, setParams] = useSearchParams();
  const chosen = params.get("c") ?? "";
  if (shelf.isPending) return <Loading what="the shelf" />;
  if (shelf.isError) return <ErrorBox error={shelf.error} onRetry={() => void shelf.refetch()} />;
  return (
    <div className="grid items-start gap-5 lg:grid-cols-[1fr_360px]">
      <section aria-label="Cylinders">
        <p className="mb-2 text-muted">
          %LEL counts by {shelf.data.lel_table}. The site chooses the table once, under Methods.
        </p>
        {shelf.data.total === 0 && (
          <Empty>{q ? "No cylinder has these words." : "No cylinder is on the shelf."}</Empty>
        )}
        <ul className="overflow-hidden rounded-2xl border border-line bg-card empty:hidden">
          {shelf.data.cylinders.map((c) => (
            <li key={c.asset} className="border-t border-line first:border-t-0">
              <button
                type="button"
                aria-expanded={c.asset === chosen}
                onClick={() => setParams({ ...Object.fromEntries(params), c: c.asset })}
                className={`grid w-full gap-x-4 gap-y-1 px-4 py-3 text-left hover:bg-sunk sm:grid-cols-[80px_1fr_150px] ${c.asset === chosen ? "bg-accent-soft" : ""}`}
              >
                <strong className="text-lg">{c.asset}</strong>
                <span className="min-w-0">
                  {c.contents}
                  <span className="block text-[14px] text-muted">
                    until {c.expires_on} · {c.regulator}
                    {c.serves.length > 0 && " · serves "}
                    {c.serves.map((tag, n) => (
                      <span key={tag}>
                        {n > 0 && ", "}
                        <span className="whitespace-nowrap">{tag}</span>
                      </span>
                    ))}
                    {c.serves_more > 0 && ` and ${c.serves_more} more`}
                  </span>
                  {c.remark && (
                    <span className="block text-[14px] font-semibold text-outside">{c.remark}</span>
                  )}
                </span>
                <Left c={c} />
              </button>
            </li>
          ))}
        </ul>
        <Pager
          {...shelf.data}
          total={counted(shelf.data.total, q, "on the shelf")}
          onPage={onPage}
        />
      </section>
      {chosen ? (
        <UsedWith asset={chosen} />
      ) : (
        <Empty>Choose a cylinder to see what it was used with.</Empty>
      )}
    </div>
  );
}

/** What is left, as a bar and in words. */
function Left({ c }: { c: Cylinder }) {
  return (
    <span className="text-[14px]">
      <span className="flex justify-between">
        <strong className="digits">{c.left}</strong>
        <span className="digits text-muted">{c.pressure}</span>
      </span>
      <span className="mt-1 block h-2 overflow-hidden rounded bg-sunk" aria-hidden="true">
        <span
          className={`block h-full ${c.usable ? "bg-within" : "bg-outside"}`}
          style={{ width: `${c.left_share * 100}%` }}
        />
      </span>
      {c.aside && <span className="digits block text-muted">{c.aside} set aside</span>}
    </span>
  );
}

function UsedWith({ asset }: { asset: string }) {
  const used = useQuery(kitQueries.usedWith(asset));
  if (used.isPending) return <Loading what={asset} />;
  if (used.isError) return <ErrorBox error={used.error} onRetry={() => void used.refetch()} />;
  const u = used.data;
  return (
    <section aria-label="Used with" className="rounded-2xl border border-line bg-card p-4">
      <h2 className="font-semibold">{u.asset} was used with</h2>
      <p className="text-[14px] text-muted">
        <Link className="underline" to={`/kit/${encodeURIComponent(u.asset)}`}>
          Its record
        </Link>
        {", "}lot {u.lot || "unknown"}
        {u.same_lot.length > 0 && `, as ${u.same_lot.join(", ")}`}; {u.total} drawn
      </p>
      {u.uses.length === 0 && <p className="mt-2 text-muted">Nothing yet.</p>}
      <ul className="mt-2 max-h-[520px] overflow-auto">
        {u.uses.map((use, i) => (
          <li
            key={i}
            className="flex justify-between gap-2 border-t border-line py-1.5 text-[15px]"
          >
            <span>
              <Link className="font-semibold underline" to={`/instruments/${use.tag}`}>
                {use.tag}
              </Link>{" "}
              <Link className="underline" to={`/jobs/${use.job}`}>
                {use.job}
              </Link>
            </span>
            <span className="digits text-[14px] text-muted">
              {moment(use.at).slice(0, 10)} {use.litres}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const STATUS: Record<string, string> = {
  good: "Still good",
  weak: "Weak",
  replace: "Spent",
  too_few: "Too few results",
  none: "Nothing known",
};

function Sensors({ page, onPage }: Listed) {
  const sensors = useQuery(kitQueries.sensors(page));
  if (sensors.isPending) return <Loading what="the sensors" />;
  if (sensors.isError)
    return <ErrorBox error={sensors.error} onRetry={() => void sensors.refetch()} />;
  return (
    <section aria-label="Sensors to order">
      <p className="mb-2 text-muted">
        Sensors that are weak, spent, or may be spent within 90 days. A response is a past value,
        from the last calibration: poisoning comes at once and is not foreseen.
      </p>
      {sensors.data.total === 0 && <Empty>No sensor has to be ordered.</Empty>}
      <ul className="overflow-hidden rounded-2xl border border-line bg-card empty:hidden">
        {sensors.data.sensors.map((s) => (
          <SensorLine key={`${s.tag}${s.channel}`} s={s} />
        ))}
      </ul>
      <Pager {...sensors.data} total={`${sensors.data.total} to order`} onPage={onPage} />
    </section>
  );
}

function SensorLine({ s }: { s: Sensor }) {
  return (
    <li className="grid gap-x-4 gap-y-1 border-t border-line px-4 py-3 first:border-t-0 sm:grid-cols-[110px_1fr_220px]">
      <Link to={`/instruments/${s.tag}`} className="text-lg font-semibold hover:underline">
        {s.tag}
      </Link>
      <span>
        {s.description}, {s.gas.toLowerCase()}
        <span className="block text-[14px] text-muted">
          <strong className="digits text-ink">{s.last}</strong> on {s.last_on}
          {s.slope && `, ${s.slope}`}
        </span>
      </span>
      <span className="text-[14px]">
        <strong className={s.status === "good" ? "text-edge" : "text-outside"}>
          {STATUS[s.status]}
        </strong>
        <span className="block text-muted">
          {s.replace_about
            ? `spent about ${s.replace_about} (80 %: ${s.replace_from || "?"} to ${s.replace_to || "?"})`
            : s.advice}
        </span>
      </span>
    </li>
  );
}
