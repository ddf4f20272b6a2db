import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useParams } from "react-router";
import type { JobState } from "../../api/client";
import type { Me } from "../../api/session";
import { ErrorBox, Loading } from "../../ui/states";
import { jobQueries } from "./api";
import { NoteDialog, UndoDialog } from "./Dialogs";
import { Explainable } from "./Explain";
import { JobHeader } from "./JobHeader";
import { NowPanel } from "./NowPanel";
import { ResultView } from "./ResultView";
import { Files } from "../../ui/Files";
import { HistoryTab, LimitsTab, StepsTab } from "./SideTabs";
import { ToClose } from "./ToClose";
import { useLive } from "./useLive";
import { useWriter } from "./useWriter";

/** Asks that show what a rig says now, beside those of a family. */
const LIVE = ["tell", "read", "set"];
const TABS = ["Task", "Result", "Steps", "History", "Limits"] as const;

/** A job: the task, and beside it, or behind a tab where the screen is small, what it is about. */
export default function JobPage({ user }: { user: Me }) {
  const { number = "" } = useParams();
  const job = useQuery(jobQueries.state(number));
  if (job.isPending) return <Loading what={number} />;
  if (job.isError && !job.data)
    return (
      <main className="mx-auto max-w-lg p-8">
        <ErrorBox error={job.error} onRetry={() => void job.refetch()} />
      </main>
    );
  return <Opened key={number} job={job.data} user={user} />;
}

function Opened({ job, user }: { job: JobState; user: Me }) {
  const writer = useWriter(job.job, user.username);
  const [chosenTab, setChosenTab] = useState<(typeof TABS)[number] | "">("");
  const [chosen, setChosen] = useState(-1);
  const [undo, setUndo] = useState("");
  const [noting, setNoting] = useState(false);
  const others = useQuery(jobQueries.here(job.job));
  const asks = job.tasks.flatMap((todo) => todo.asks);
  const shows = asks.some((ask) => ask.also.length > 0 || LIVE.includes(ask.way));
  const live = useLive(job.job, job.seq, job.instrument.rig && job.status === "open" && shows);
  const hasResult = job.as_found.taken > 0 || asks.some((ask) => ask.way === "read");
  // Beside a task there is always something; on a small screen the task itself is a tab.
  const first = hasResult ? "Result" : "Steps";
  const tab = chosenTab === "" || chosenTab === "Task" ? first : chosenTab;
  const onTask = chosenTab === "" || chosenTab === "Task";
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
      if (target?.matches("input, textarea, select, [role=dialog] *")) return;
      if (event.key === "u" && job.last_undoable) setUndo(job.last_undoable);
      if (event.key === "n") {
        event.preventDefault();
        setNoting(true);
      }
      const wanted = TABS[Number(event.key)];
      if (wanted) setChosenTab(wanted);
      if (event.key === "Enter" && (!target || target === document.body))
        document.querySelector<HTMLButtonElement>("[data-main]")?.click();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [job.last_undoable]);
  const mayRecord = user.can.includes("job.record");
  return (
    <Explainable number={job.job} seq={job.seq}>
      <main
        data-seq={job.seq}
        data-step={job.current_step}
        className="grid h-full min-h-0 grid-cols-1 grid-rows-[auto_auto_minmax(0,1fr)] gap-2 px-3 py-2 md:grid-rows-[auto_minmax(0,1fr)_minmax(0,1fr)] lg:grid-cols-[384px_minmax(0,1fr)] lg:grid-rows-[auto_minmax(0,1fr)] lg:gap-3"
      >
        <JobHeader job={job} others={others.data ?? []} />
        <div
          role="tablist"
          aria-label="Parts of this job"
          className="grid auto-cols-fr grid-flow-col rounded-xl border border-line bg-card md:hidden"
        >
          {TABS.map((name) => (
            <Tab
              key={name}
              name={name}
              chosen={onTask ? name === "Task" : name === tab}
              onChoose={() => setChosenTab(name)}
            />
          ))}
        </div>
        <NowPanel
          job={job}
          className={onTask ? "" : "max-md:hidden"}
          user={user}
          writer={writer}
          live={live}
          retake={chosen}
          onRetaken={() => setChosen(-1)}
          onUndo={() => setUndo(job.last_undoable)}
          onNote={() => setNoting(true)}
        />
        <div className={`flex min-h-0 flex-col gap-2 ${onTask ? "max-md:hidden" : ""}`}>
          <div className="flex flex-wrap items-center gap-1">
            <div role="tablist" aria-label="About this job" className="hidden gap-1 md:flex">
              {TABS.slice(1).map((name) => (
                <Tab
                  key={name}
                  name={name}
                  chosen={tab === name}
                  onChoose={() => setChosenTab(name)}
                />
              ))}
            </div>
            <span className="digits ml-auto text-[14px] text-muted">
              {job.job}
              {job.follows && `, follows ${job.follows}`}
            </span>
            <ToClose job={job} writer={writer} />
          </div>
          {tab === "Result" ? (
            <ResultView
              job={job}
              live={live}
              chosen={chosen}
              onChoose={(index) => setChosen(index === chosen ? -1 : index)}
            />
          ) : (
            <section
              tabIndex={0}
              aria-label={tab}
              className="min-h-0 flex-1 overflow-auto rounded-[14px] border border-line bg-card p-4"
            >
              {tab === "Steps" && <StepsTab job={job} />}
              {tab === "History" && (
                <>
                  <Files about="job" of={job.job} may={user.can.includes("file.add")} />
                  <HistoryTab job={job} mayUndo={mayRecord} onUndo={(line) => setUndo(line.id)} />
                </>
              )}
              {tab === "Limits" && <LimitsTab job={job} />}
            </section>
          )}
        </div>
      </main>
      <UndoDialog job={job} event={undo} writer={writer} onClose={() => setUndo("")} />
      <NoteDialog open={noting} writer={writer} onClose={() => setNoting(false)} />
    </Explainable>
  );
}

type TabProps = { name: string; chosen: boolean; onChoose: () => void };

function Tab({ name, chosen, onChoose }: TabProps) {
  return (
    <button
      type="button"
      role="tab"
      aria-selected={chosen}
      onClick={onChoose}
      className="min-h-11 rounded-lg px-2 text-[15px] text-muted aria-selected:bg-ink aria-selected:text-paper lg:px-3"
    >
      {name}
    </button>
  );
}
