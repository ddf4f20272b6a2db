import { lazy, Suspense, type ComponentType } from "react";

type Load<P> = () => Promise<{ default: ComponentType<P> }>;

/** What is fetched beforehand, in quiet moments, so that it is there without a server too. */
const waiting: (() => Promise<unknown>)[] = [];
let fetching = false;

/** Until the page has nothing else to do: what is looked at just now comes first. */
const idle = () =>
  new Promise<void>((go) =>
    "requestIdleCallback" in window
      ? requestIdleCallback(() => go(), { timeout: 3000 })
      : setTimeout(go, 50),
  );

async function beforehand() {
  fetching = true;
  for (let next = waiting.shift(); next; next = waiting.shift()) {
    await idle();
    await next();
  }
  fetching = false;
  document.documentElement.dataset.parts = "here";
}

const quiet = () => setTimeout(() => !fetching && void beforehand(), 300);
window.addEventListener("load", quiet);

/** Ask until it is there: what cannot be fetched now comes once the server is back. */
async function patiently<T>(load: () => Promise<T>): Promise<T> {
  for (;;)
    try {
      return await load();
    } catch {
      await new Promise((again) => setTimeout(again, 2000));
    }
}

/** A part of the page that is no burden to the first screen, and what stands there until it is. */
export function part<P extends object>(load: Load<P>, Meanwhile?: ComponentType<P>) {
  let asked: ReturnType<Load<P>> | undefined;
  const once = () => (asked ??= patiently(load));
  waiting.push(once);
  if (document.readyState === "complete") quiet();
  const Part = lazy(once) as unknown as ComponentType<P>;
  return (props: P) => (
    <Suspense fallback={Meanwhile && <Meanwhile {...props} />}>
      <Part {...props} />
    </Suspense>
  );
}

/**
 * A part that nothing waits for: it is fetched in a quiet moment, and stands in its place when that
 * is drawn next. For what is drawn again by itself, as the strip is by its clock.
 */
export function quietPart<P extends object>(load: Load<P>, Meanwhile: ComponentType<P>) {
  let Here = Meanwhile;
  waiting.push(async () => {
    Here = (await patiently(load)).default;
  });
  return (props: P) => <Here {...props} />;
}
