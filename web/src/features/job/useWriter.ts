import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, client, unwrap, type JobState, type Problem } from "../../api/client";
import { jobQueries } from "./api";

export type NewEvent = {
  kind: string;
  data: Record<string, unknown>;
  source?: "typed" | "simulated";
};
type Pending = NewEvent & { id: string };

export type Writer = {
  /** Sends events; answers true when they are stored. */
  send: (events: NewEvent[], password?: string) => Promise<boolean>;
  sending: boolean;
  /** The server is away: the entry is kept on this device and sent again. */
  waiting: boolean;
  problem: Problem | null;
  clear: () => void;
};

const place = (number: string) => `pending:${number}`;

function kept(number: string): Pending[] {
  try {
    return JSON.parse(localStorage.getItem(place(number)) ?? "[]") as Pending[];
  } catch {
    return [];
  }
}

export function newId() {
  const b = crypto.getRandomValues(new Uint8Array(16));
  b[6] = ((b[6] ?? 0) & 0x0f) | 0x40;
  b[8] = ((b[8] ?? 0) & 0x3f) | 0x80;
  const hex = Array.from(b, (x) => x.toString(16).padStart(2, "0")).join("");
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})/, "$1-$2-$3-$4-");
}

/** Appends events to a job. Ids are made here, so sending one twice stores it once. */
export function useWriter(number: string): Writer {
  const queries = useQueryClient();
  const [sending, setSending] = useState(false);
  const [waiting, setWaiting] = useState(() => kept(number).length > 0);
  const [problem, setProblem] = useState<Problem | null>(null);
  const busy = useRef(false);
  const key = jobQueries.state(number).queryKey;

  const post = useCallback(
    async (pending: Pending[], password: string) => {
      const seq = queries.getQueryData<JobState>(key)?.seq ?? 0;
      busy.current = true;
      setSending(true);
      try {
        const state = await unwrap(
          client.POST("/api/jobs/{number}/events", {
            params: { path: { number } },
            body: { expected_seq: seq, events: pending as never, password },
          }),
        );
        await queries.cancelQueries({ queryKey: key, exact: true });
        queries.setQueryData(key, state);
        void queries.invalidateQueries({ queryKey: ["safety"] });
        localStorage.removeItem(place(number));
        setWaiting(false);
        setProblem(null);
        return true;
      } catch (error) {
        if (!(error instanceof ApiError)) throw error;
        if (error.unreachable && !password) {
          localStorage.setItem(place(number), JSON.stringify(pending));
          setWaiting(true);
        } else {
          localStorage.removeItem(place(number));
          setWaiting(false);
          setProblem(error.problem);
          if (error.status === 409) void queries.invalidateQueries({ queryKey: key, exact: true });
        }
        return false;
      } finally {
        busy.current = false;
        setSending(false);
      }
    },
    [number, queries, key],
  );

  useEffect(() => {
    if (!waiting) return;
    const again = () => {
      const pending = kept(number);
      if (pending.length && !busy.current && queries.getQueryData(key)) void post(pending, "");
    };
    again();
    const timer = setInterval(again, 1500);
    return () => clearInterval(timer);
  }, [waiting, number, post, queries, key]);

  const send = useCallback(
    async (events: NewEvent[], password = "") => {
      if (busy.current || kept(number).length) return false;
      setProblem(null);
      const pending = events.map((e) => ({ source: "typed" as const, ...e, id: newId() }));
      if (!password) localStorage.setItem(place(number), JSON.stringify(pending));
      return post(pending, password);
    },
    [number, post],
  );
  return { send, sending, waiting, problem, clear: () => setProblem(null) };
}
