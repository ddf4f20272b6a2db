import { useSyncExternalStore } from "react";

// Below it the Now panel and the result do not stand side by side in full.
const NARROW = "(max-width: 79.99rem)";
const query = () => window.matchMedia(NARROW);
const follow = (changed: () => void) => {
  const asked = query();
  asked.addEventListener("change", changed);
  return () => asked.removeEventListener("change", changed);
};

/** Whether the screen is a phone's or a tablet's. */
export const useNarrow = () => useSyncExternalStore(follow, () => query().matches);
