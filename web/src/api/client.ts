import createClient from "openapi-fetch";
import { askedOrAsk } from "./early";
import { look } from "./release";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type JobState = Schemas["JobState"];
export type RunState = Schemas["RunState"];
export type Point = Schemas["PointState"];
export type Value = Schemas["Value"];
export type Frame = Schemas["Frame"];
export type Problem = Required<Schemas["Problem"]>;

let csrfToken = "";
/** Keep the token that writing requests carry; it changes at sign-in. */
export const setCsrfToken = (token: string) => {
  csrfToken = token;
};

/** The token for a request that does not go through the client. */
export const csrf = () => csrfToken;

export const client = createClient<paths>({
  baseUrl: document.baseURI,
  fetch: askedOrAsk,
});

/** A token may end with its cookie or its session: who is there is asked again. */
async function outOfDate(response: Response) {
  const said = (await response.clone().json()) as Partial<Problem>;
  if (said.code === "csrf") window.dispatchEvent(new Event(SIGNED_OUT));
}

/** Heard by the page when the server says that nobody is signed in any more. */
export const SIGNED_OUT = "signed-out";
client.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken);
    return request;
  },
  async onResponse({ request, response }) {
    look(response);
    if (response.status === 401) window.dispatchEvent(new Event(SIGNED_OUT));
    if (response.status === 403 && !request.url.endsWith("/api/v1/session"))
      await outOfDate(response);
    return response;
  },
});

/** The server's refusal, or that it could not be reached at all. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.message);
  }
  get unreachable() {
    return this.status === 0 || this.status >= 502;
  }
  /** What was sent waits: until the server answers, or until somebody signs in again. */
  get waits() {
    return this.unreachable || this.status === 401 || this.problem.code === "csrf";
  }
}

export const NO_ANSWER: Problem = {
  code: "server.no_answer",
  message: "The server does not answer.",
  field: "",
  remedy: "Nothing was stored. Do it again when it answers.",
  suggestion: "",
  swap: "",
};

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** Return the data of a call, or throw an ApiError that says what to do. */
export async function unwrap<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    throw new ApiError(0, NO_ANSWER);
  }
  if (answer.response.ok && answer.data !== undefined) return answer.data;
  const said = answer.error as Partial<Problem> | undefined;
  const fallback = { ...NO_ANSWER, message: `The server answered with ${answer.response.status}.` };
  throw new ApiError(
    answer.response.status,
    said?.code ? { ...NO_ANSWER, remedy: "", ...said } : fallback,
  );
}
