import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { Choose } from "../../ui/Choose";
import { Pager } from "../../ui/Pager";
import { Page } from "../../ui/Page";
import { part } from "../../ui/part";
import { SearchBox } from "../../ui/SearchBox";
import { Empty, ErrorBox, Loading } from "../../ui/states";
import { Views } from "../../ui/Views";
import { ChosenBar } from "./ChosenBar";
import { asAddress, findQuery, soughtIn, type Sought } from "./finding";
import { FoundTable } from "./FoundTable";

const NewInstrument = part(() => import("./setup/NewInstrument"));

/** Find instruments by words, area, kind and how they stand; change many at once. */
export default function InstrumentsPage({ user }: { user: Me }) {
  const [making, setMaking] = useState(false);
  const [params, setParams] = useSearchParams();
  const sought = soughtIn(params);
  const page = Number(params.get("page") ?? "1") || 1;
  const found = useQuery(findQuery(sought, page));
  const [chosen, setChosen] = useState<Set<string> | "all">(new Set());
  const data = found.data;
  const shown = chosen === "all" ? new Set((data?.found ?? []).map((i) => i.tag)) : chosen;
  const look = (change: Partial<Sought>) => {
    setChosen(new Set());
    setParams(asAddress({ ...sought, ...change }), { replace: true });
  };
  const choose = (tags: string[], on: boolean) => {
    const next = new Set(shown);
    for (const tag of tags)
      if (on) next.add(tag);
      else next.delete(tag);
    setChosen(next);
  };
  const query = asAddress(sought).toString();
  const those =
    chosen === "all"
      ? { tags: [], find: sought, count: data?.total ?? 0 }
      : { tags: [...chosen], find: null, count: chosen.size };
  return (
    <Page
      title="Instruments"
      aside={
        <>
          <SearchBox
            label="Tag, words, serial or area"
            value={sought.q}
            onChange={(q) => look({ q })}
          />
          <Link to="/methods" className="ml-auto min-h-11 py-2.5 underline">
            Methods and their limits
          </Link>
          {user.can.includes("plant.setup") && (
            <Button onClick={() => setMaking(true)}>New instrument</Button>
          )}
          {making && <NewInstrument onClose={() => setMaking(false)} />}
        </>
      }
    >
      {data && (
        <div role="search" className="mb-3 flex flex-wrap items-center gap-2">
          <Choose
            label="All areas"
            value={sought.area}
            choices={data.area_names}
            onChange={(area) => look({ area })}
          />
          <Choose
            label="All kinds"
            value={sought.kind}
            choices={data.kinds}
            onChange={(kind) => look({ kind })}
          />
          <Choose
            label="Any state"
            value={sought.state}
            choices={data.states.map((s) => ({ value: s.id, label: s.label }))}
            onChange={(state) => look({ state })}
          />
          <Views place="instruments" query={query} onShow={(q) => setParams(q)} />
        </div>
      )}
      {found.isPending && <Loading what="instruments" />}
      {found.isError && <ErrorBox error={found.error} onRetry={() => void found.refetch()} />}
      {data?.total === 0 && (
        <Empty>
          {query
            ? "No instrument fits. Try fewer letters, or take a filter away."
            : "There is no instrument yet. A planner sets one up by form, or brings in a list."}
        </Empty>
      )}
      {data && those.count > 0 && (
        <ChosenBar
          user={user}
          those={those}
          sought={sought}
          more={data.total}
          onAll={() => setChosen("all")}
          onClear={() => setChosen(new Set())}
        />
      )}
      {data && data.total > 0 && (
        <>
          <FoundTable found={data.found} chosen={shown} onChoose={choose} />
          <Pager
            page={data.page}
            pages={data.pages}
            total={`${data.total} ${data.total === 1 ? "instrument" : "instruments"}`}
            onPage={(next) => setParams(asAddress(sought, next))}
          />
        </>
      )}
    </Page>
  );
}
