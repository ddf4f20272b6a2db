import { useState } from "react";
import { person } from "../person";
import { toInputs, toPayload, type Entry, type Inputs, type Payload } from "./inputs";

type Part = { id: string; entries: Entry[] };
type Filled = Record<string, Inputs>;
/** What was typed, and what stood there when it was begun. */
type Draft = { begun: Filled; filled: Filled };

/** What a family adds stands in its record under the name of its section. */
const OWN = "own";

function read(sections: Part[], record: Payload): Filled {
  const held = (id: string) => (id === OWN ? ((record.own as Payload | undefined) ?? {}) : record);
  return Object.fromEntries(sections.map((s) => [s.id, toInputs(s.entries, held(s.id))]));
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** Only what was typed goes over what stands there now: others may have changed the rest. */
function over(now: Filled, { begun, filled }: Draft): Filled {
  const found: Filled = {};
  for (const [id, fresh] of Object.entries(now)) {
    const typed = filled[id] ?? {};
    const before = begun[id] ?? {};
    const names = Object.keys({ ...before, ...typed });
    const changed = names.filter((name) => !same(typed[name], before[name]));
    found[id] = { ...fresh, ...Object.fromEntries(changed.map((name) => [name, typed[name]])) };
  }
  return found;
}

/** A record in the parts of its form; what is typed stays on this device until it is stored. */
export function useRecord(name: string, sections: Part[], given: Payload) {
  const key = `${person()}:${name}`;
  const [now] = useState(() => read(sections, given));
  const [filled, setFilled] = useState(() => {
    const kept = sessionStorage.getItem(key);
    return kept ? over(now, JSON.parse(kept) as Draft) : now;
  });
  const record: Payload = {};
  for (const section of sections) {
    const part = toPayload(section.entries, filled[section.id] ?? {});
    if (section.id === OWN) record.own = part;
    else Object.assign(record, part);
  }
  const change = (id: string, inputs: Inputs) => {
    const next = { ...filled, [id]: inputs };
    setFilled(next);
    sessionStorage.setItem(key, JSON.stringify({ begun: now, filled: next }));
  };
  return { filled, record, change, forget: () => sessionStorage.removeItem(key) };
}
