import { client, unwrap, type JobState, type Schemas } from "../../api/client";

/** The newest state of each job, and the names of its parts as the server told them. */
const held = new Map<string, { state: JobState; parts: string }>();
const MOST = 16;

type Asked = { data?: JobState; error?: unknown; response: Response };

/** Asks for a state, says which parts of it are here already, and adds those that come. */
async function whole(
  number: string,
  ask: (headers: Record<string, string>) => Promise<Asked>,
): Promise<JobState> {
  const before = held.get(number);
  let parts: string | null = null;
  const call = ask(before ? { "Parts-Held": before.parts } : {}).then((answer) => {
    parts = answer.response.headers.get("Parts");
    return answer;
  });
  const state = { ...before?.state, ...(await unwrap(call)) };
  held.delete(number);
  if (parts) held.set(number, { state, parts });
  const oldest = held.keys().next().value;
  if (held.size > MOST && oldest !== undefined) held.delete(oldest);
  return state;
}

const path = (number: string) => ({ path: { number } });

export const stateOf = (number: string, signal?: AbortSignal) =>
  whole(number, (headers) =>
    client.GET("/api/v1/jobs/{number}", { params: path(number), headers, signal }),
  );

export const added = (number: string, body: Schemas["BatchIn"]) =>
  whole(number, (headers) =>
    client.POST("/api/v1/jobs/{number}/events", { params: path(number), headers, body }),
  );
