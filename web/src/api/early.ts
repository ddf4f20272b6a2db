declare global {
  interface Window {
    /** By address: what public/first.js asked before this page's scripts were there. */
    askedEarly?: Record<string, Promise<Response> | undefined>;
  }
}

/** Ask the server; what was asked early is taken from there, once. A refusal may be out of date. */
export function askedOrAsk(request: Request): Promise<Response> {
  const early = request.method === "GET" ? window.askedEarly?.[request.url] : undefined;
  if (!early) return fetch(request);
  delete window.askedEarly?.[request.url];
  return early.then(
    (answer) => (answer.ok ? answer : fetch(request)),
    () => fetch(request),
  );
}
