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

/** So long after one picture the next is asked for. [ms] */
const EVERY = 250;

/**
 * The live picture of the job's rig, asked for again and again while somebody sees it. No
 * connection is held open: a browser allows few of them, and every page needs some.
 */
export function useLive(number: string, wanted: boolean): Live {
  const [live, setLive] = useState<Live>({ frame: null, lost: false });
  useEffect(() => {
    if (!wanted) return;
    let timer = 0;
    let over = false;
    const look = async () => {
      if (!document.hidden)
        try {
          const path = { params: { path: { number } } };
          const frame = await unwrap(client.GET("/api/v1/rigs/{number}/frame", path));
          if (!over) setLive({ frame, lost: false });
        } catch {
          if (!over) setLive((before) => ({ ...before, lost: true }));
        }
      if (!over) timer = window.setTimeout(() => void look(), EVERY);
    };
    void look();
    return () => {
      over = true;
      window.clearTimeout(timer);
    };
  }, [number, wanted]);
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
    return null;
  } catch (error) {
    return error instanceof ApiError ? error.problem : NO_ANSWER;
  }
}
