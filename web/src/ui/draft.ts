import { useCallback, useState } from "react";
import { person } from "./person";

type Values = Record<string, string>;

function read(key: string): Values {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "{}") as Values;
  } catch {
    return {};
  }
}

const keyOf = (name: string) => `draft:${person()}:${name}`;

/** What a person typed somewhere and did not send yet. */
export const draftOf = (name: string) =>
  Object.entries(read(keyOf(name)))
    .filter(([field, value]) => field !== "read_from" && value.trim() !== "")
    .map(([, value]) => value);
export const dropDraft = (name: string) => localStorage.removeItem(keyOf(name));

/** Type something for a person, somewhere that is not on the screen now. */
export const putDraft = (name: string, field: string, value: string) =>
  localStorage.setItem(keyOf(name), JSON.stringify({ ...read(keyOf(name)), [field]: value }));

/** What a person typed and did not send yet; it survives a reload and a closed page. */
export function useDraft(name: string) {
  const key = keyOf(name);
  const [state, setState] = useState(() => ({ key, values: read(key) }));
  const values = state.key === key ? state.values : read(key);
  if (state.key !== key) setState({ key, values });
  const set = useCallback(
    (field: string, value: string) =>
      setState((before) => {
        const next = { ...before.values, [field]: value };
        localStorage.setItem(key, JSON.stringify(next));
        return { key, values: next };
      }),
    [key],
  );
  const clear = useCallback(() => {
    localStorage.removeItem(key);
    setState({ key, values: {} });
  }, [key]);
  return { values, set, clear };
}
