import { useEffect, useState } from "react";
import {
  ApiError,
  client,
  NO_ANSWER,
  unwrap,
  type Frame,
  type Problem,
  type Schemas,
} from "../../api/client";

export type Live = { frame: Frame | null; lost: boolean };

/** So long after one picture the next is asked for: while it moves, and while it stands. [ms] */
const MOVES = 250;
const STANDS = 1000;

/** Pages that show a picture: they look at once when something was ordered. */
const looking = new Set<() => void>();

/** Tells whether nothing is seen to change: steady, or heating for minutes. */
const stands = (frame: Frame | null) =>
  frame !== null &&
  ((frame.steady && frame.shown.every((one) => one.steady)) || frame.group !== null);

/**
 * The live picture of the job's rig, asked for again and again while somebody sees it, at once
 * after each entry (`seq`) and order. No connection is held open: a browser allows few of them,
 * and every page needs some.
 */
export function useLive(number: string, seq: number, wanted: boolean): Live {
  const [live, setLive] = useState<Live>({ frame: null, lost: false });
  useEffect(() => {
    if (!wanted) return;
    let timer = 0;
    let turn = 0;
    let next = MOVES;
    const look = async () => {
      window.clearTimeout(timer);
      const mine = ++turn;
      if (!document.hidden)
        try {
          const path = { params: { path: { number } } };
          const frame = await unwrap(client.GET("/api/v1/rigs/{number}/frame", path));
          next = stands(frame) ? STANDS : MOVES;
          if (mine === turn) setLive({ frame, lost: false });
        } catch {
          if (mine === turn) setLive((before) => ({ ...before, lost: true }));
        }
      if (mine === turn) timer = window.setTimeout(() => void look(), next);
    };
    const soon = () => void look();
    looking.add(soon);
    soon();
    return () => {
      turn = -1;
      looking.delete(soon);
      window.clearTimeout(timer);
    };
  }, [number, seq, wanted]);
  return wanted ? live : { frame: null, lost: false };
}

type Order = Partial<Schemas["Order"]> & Pick<Schemas["Order"], "kind">;

/** Sends a command to a rig; answers with the refusal, or nothing when it was taken. */
export async function command(tag: string, order: Order): Promise<Problem | null> {
  const body: Schemas["Order"] = {
    value: 0,
    scale: "input",
    hop: "output",
    end: "zero",
    setting: "",
    text: "",
    ...order,
  };
  try {
    await unwrap(client.POST("/api/v1/rigs/{tag}/commands", { params: { path: { tag } }, body }));
    looking.forEach((look) => look());
    return null;
  } catch (error) {
    return error instanceof ApiError ? error.problem : NO_ANSWER;
  }
}
