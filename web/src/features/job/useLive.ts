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

/** The live picture of the job's rig; empty when there is none. */
export function useLive(number: string, wanted: boolean): Live {
  const [live, setLive] = useState<Live>({ frame: null, lost: false });
  useEffect(() => {
    if (!wanted) return;
    const stream = new EventSource(`/api/rigs/${number}/stream`);
    stream.onmessage = (event: MessageEvent<string>) =>
      setLive({ frame: JSON.parse(event.data) as Frame, lost: false });
    stream.onerror = () => setLive((before) => ({ ...before, lost: true }));
    return () => stream.close();
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
    await unwrap(client.POST("/api/rigs/{tag}/commands", { params: { path: { tag } }, body }));
    return null;
  } catch (error) {
    return error instanceof ApiError ? error.problem : NO_ANSWER;
  }
}
