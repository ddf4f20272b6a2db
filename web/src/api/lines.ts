import { ApiError, csrf, NO_ANSWER, type Problem } from "./client";

/** Send a form with a file; hand over each line of the answer as it comes. */
export async function sendFile<T>(path: string, form: FormData, onLine: (line: T) => void) {
  let answer: Response;
  try {
    answer = await fetch(path, { method: "POST", body: form, headers: { "X-CSRFToken": csrf() } });
  } catch {
    throw new ApiError(0, NO_ANSWER);
  }
  if (!answer.ok || !answer.body) {
    const said = (await answer.json().catch(() => null)) as Problem | null;
    throw new ApiError(answer.status, said?.code ? { ...NO_ANSWER, ...said } : NO_ANSWER);
  }
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    const parts = (rest + (value ?? "")).split("\n");
    rest = done ? "" : (parts.pop() ?? "");
    for (const part of parts) if (part) take(JSON.parse(part) as { refused?: Problem }, onLine);
    if (done) return;
  }
}

function take<T>(line: { refused?: Problem }, onLine: (line: T) => void) {
  if (line.refused) throw new ApiError(422, { ...NO_ANSWER, ...line.refused });
  onLine(line as T);
}

/** Send a form with a file; return what is answered. */
export async function postForm<T>(path: string, form: FormData): Promise<T> {
  const headers = { "X-CSRFToken": csrf() };
  const answer = await fetch(path, { method: "POST", body: form, headers }).catch(() => null);
  if (!answer) throw new ApiError(0, NO_ANSWER);
  const said = (await answer.json().catch(() => null)) as (Problem & T) | null;
  if (!answer.ok || said === null)
    throw new ApiError(answer.status, said?.code ? { ...NO_ANSWER, ...said } : NO_ANSWER);
  return said;
}
