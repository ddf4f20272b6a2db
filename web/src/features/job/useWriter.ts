import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, type JobState, type Problem } from "../../api/client";
import { jobQueries } from "./api";
import { keep, made, othersWaiting, toSend, waitingFor, type Group } from "./outbox";
import { added } from "./parts";

export type NewEvent = {
  kind: string;
  data: Record<string, unknown>;
  source?: "typed" | "simulated";
};

export type Writer = {
  /** Sends events; answers true when they are stored. */
  send: (events: NewEvent[], password?: string) => Promise<boolean>;
  sending: boolean;
  /** How many statements are kept on this device until the server answers. */
  waiting: number;
  /** Why they wait, in the server's words where it said something. */
  why: string;
  /** One that was kept and then refused: it stays until somebody decides. */
  refused: Group | null;
  /** Tells whether just this is kept on this device, until the server answers. */
  keeps: (events: NewEvent[]) => boolean;
  again: () => void;
  discard: () => void;
  /** Leaves out what was made last and was not sent yet. */
  discardLast: () => void;
  /** People whose entries for this job wait on this device. */
  others: string[];
  problem: Problem | null;
  clear: () => void;
};

const NOT_KEPT: Problem = {
  code: "server.no_answer",
  field: "password",
  message: "The server does not answer. Nothing was kept, and nothing was signed or taken off.",
  remedy: "It takes your password: do it again when the server answers.",
  suggestion: "",
  swap: "",
};

const saysOf = (events: { kind: string; data: Record<string, unknown> }[]) =>
  JSON.stringify(events.map((e) => [e.kind, e.data]));
const says = (group: Group) => saysOf(group.entries);

/** Appends events to a job. Ids are made here, so sending one twice stores it once. */
export function useWriter(number: string, person: string): Writer {
  const queries = useQueryClient();
  const [sending, setSending] = useState(false);
  const [queue, setQueue] = useState(() => waitingFor(person, number));
  const [problem, setProblem] = useState<Problem | null>(null);
  const [why, setWhy] = useState("");
  const busy = useRef(false);
  const key = jobQueries.state(number).queryKey;

  const store = useCallback(
    (groups: Group[]) => {
      keep(person, number, groups);
      setQueue(groups);
    },
    [person, number],
  );

  const post = useCallback(
    async (group: Group, password: string) => {
      const seq = queries.getQueryData<JobState>(key)?.seq ?? 0;
      busy.current = true;
      setSending(true);
      try {
        const state = await added(number, {
          expected_seq: seq,
          events: group.entries.map(toSend) as never,
          password,
          account: person,
        });
        await queries.cancelQueries({ queryKey: key, exact: true });
        queries.setQueryData(key, state);
        void queries.invalidateQueries({ queryKey: ["safety"] });
        return null;
      } catch (error) {
        if (!(error instanceof ApiError)) throw error;
        if (error.status === 409) void queries.invalidateQueries({ queryKey: key, exact: true });
        return error;
      } finally {
        busy.current = false;
        setSending(false);
      }
    },
    [number, person, queries, key],
  );

  /** Send what waits, one statement after the other; the first that is refused stays in front. */
  const flush = useCallback(async () => {
    for (;;) {
      const [first, ...rest] = waitingFor(person, number);
      if (!first || first.problem || busy.current || !queries.getQueryData(key)) return;
      const failed = await post(first, "");
      const since = waitingFor(person, number).slice(1 + rest.length);
      setWhy(failed?.problem.message ?? "");
      if (failed?.waits) return;
      if (failed) return store([{ ...first, problem: failed.problem }, ...rest, ...since]);
      store([...rest, ...since]);
    }
  }, [person, number, post, store, queries, key]);

  useEffect(() => {
    if (!queue.length) return;
    const timer = setInterval(() => void flush(), 1500);
    return () => clearInterval(timer);
  }, [queue.length, flush]);

  const send = useCallback(
    async (events: NewEvent[], password = "") => {
      if (busy.current) return false;
      setProblem(null);
      const group = { entries: events.map((e) => made(e.kind, e.data, e.source ?? "typed")) };
      const before = waitingFor(person, number);
      // A second tap while the server is away says nothing new.
      if (before.some((waits) => says(waits) === says(group))) return false;
      if (!password) store([...before, group]);
      if (before.length) return false;
      const failed = await post(group, password);
      const rest = waitingFor(person, number).filter(
        (g) => g.entries[0]?.id !== group.entries[0]?.id,
      );
      setWhy(failed?.problem.message ?? "");
      if (failed?.waits && !password) return false;
      store(rest);
      // What takes a password is never kept: it says so, beside the password.
      setProblem(failed ? (failed.waits ? NOT_KEPT : failed.problem) : null);
      return failed === null;
    },
    [number, person, post, store],
  );
  const first = queue[0];
  const refused = first?.problem ? first : null;
  return {
    send,
    sending,
    waiting: sending ? Math.max(0, queue.length - 1) : queue.length,
    why,
    refused,
    keeps: (events) => waitingFor(person, number).some((g) => says(g) === saysOf(events)),
    again: () => first && store([{ entries: first.entries }, ...queue.slice(1)]),
    discard: () => store(queue.slice(1)),
    discardLast: () => store(queue.slice(0, -1)),
    others: othersWaiting(person, number),
    problem,
    clear: () => setProblem(null),
  };
}
