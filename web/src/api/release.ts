import { useSyncExternalStore } from "react";

/** Of which release this page is, as the server wrote into it. */
const RELEASE = document.querySelector<HTMLMetaElement>("meta[name=release]")?.content ?? "";
let renewed = false;
const heard = new Set<() => void>();

/** Look at an answer: one of another release says that this page is out of date. */
export function look(answer: Response) {
  const now = answer.headers.get("Verify-Loop-Release");
  if (renewed || !RELEASE || !now || now === RELEASE) return;
  renewed = true;
  heard.forEach((tell) => tell());
}

/** Ask the server which release it is; load the page anew where that is another one. */
export async function reloadIfRenewed() {
  const answer = await fetch("api/v1/session").catch(() => null);
  if (answer) look(answer);
  if (renewed) window.location.reload();
}

const listen = (tell: () => void) => {
  heard.add(tell);
  return () => heard.delete(tell);
};

/** Whether the server has become another release since this page was loaded. */
export const useRenewed = () => useSyncExternalStore(listen, () => renewed);

/** The version that is shown: without the mark of its files. */
export const VERSION = RELEASE.split("+")[0] ?? "";

/** The address of a place of the product, below whatever path it lies. */
export const here = (path: string) => new URL(path.replace(/^\//, ""), document.baseURI).href;

/** The path below which it lies, such as "/" or "/loops/". */
export const BASE = new URL(document.baseURI).pathname;
