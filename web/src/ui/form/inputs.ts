import type { Schemas } from "../../api/client";

export type Entry = Schemas["Entry"];
export type Payload = Record<string, unknown>;

/** What stands in the fields: text as typed; a unit only where another one was chosen. */
export type Inputs = { [name: string]: Value };
export type Value = string | boolean | string[] | Inputs | Inputs[] | undefined;

const unitKey = (name: string) => `${name} unit`;
export const unitOf = (inputs: Inputs, entry: Entry) =>
  (inputs[unitKey(entry.name)] as string | undefined) ?? entry.unit ?? "";
export const withUnit = (inputs: Inputs, entry: Entry, unit: string): Inputs => ({
  ...inputs,
  [unitKey(entry.name)]: unit === entry.unit ? undefined : unit,
});

/** Fill the fields from an example, an address or a find, all given as the API takes them. */
export function toInputs(entries: Entry[], given: Payload): Inputs {
  const inputs: Inputs = {};
  for (const entry of entries) {
    const value = given[entry.name] ?? (entry.kind === "yes_no" ? entry.default === "true" : null);
    if (value === null || value === undefined) {
      if (entry.kind === "group") inputs[entry.name] = toInputs(entry.entries ?? [], {});
      else if (entry.default) inputs[entry.name] = entry.default;
    } else if (entry.kind === "rows") {
      inputs[entry.name] = (value as Payload[]).map((row) => toInputs(entry.entries ?? [], row));
    } else if (entry.kind === "group") {
      inputs[entry.name] = toInputs(entry.entries ?? [], value as Payload);
    } else if (entry.kind === "yes_no") {
      inputs[entry.name] = value === true || value === "true";
    } else if (entry.kind === "choices") {
      inputs[entry.name] = value as string[];
    } else if (entry.kind === "numbers") {
      inputs[entry.name] = (value as unknown[]).join("; ");
    } else if (typeof value === "object") {
      const quantity = value as { value: unknown; unit: string };
      inputs[entry.name] = String(quantity.value);
      inputs[unitKey(entry.name)] = quantity.unit;
    } else {
      inputs[entry.name] = String(value);
    }
  }
  return inputs;
}

/** What is sent: fields left empty are left out. */
export function toPayload(entries: Entry[], inputs: Inputs): Payload {
  const payload: Payload = {};
  for (const entry of entries) {
    const value = inputs[entry.name];
    if (value === undefined || value === "") continue;
    if (entry.kind === "rows") {
      const rows = (value as Inputs[]).map((row) => toPayload(entry.entries ?? [], row));
      payload[entry.name] = rows.filter((row) => Object.keys(row).length > 0);
    } else if (entry.kind === "group") {
      const inner = toPayload(entry.entries ?? [], value as Inputs);
      if (entry.required || Object.keys(inner).length > 0) payload[entry.name] = inner;
    } else if (entry.kind === "numbers") {
      payload[entry.name] = String(value)
        .split(/[;\s]+/)
        .filter(Boolean);
    } else if (entry.kind === "number" && inputs[unitKey(entry.name)]) {
      payload[entry.name] = { value, unit: inputs[unitKey(entry.name)] };
    } else {
      payload[entry.name] = value;
    }
  }
  return payload;
}

/** The address holds the payload: plain values as they are, all others as JSON. */
export function toAddress(payload: Payload): URLSearchParams {
  const address = new URLSearchParams();
  for (const [name, value] of Object.entries(payload))
    address.set(name, typeof value === "string" ? value : JSON.stringify(value));
  return address;
}

export function fromAddress(entries: Entry[], address: URLSearchParams): Payload {
  const payload: Payload = {};
  for (const entry of entries) {
    const text = address.get(entry.name);
    if (text === null) continue;
    try {
      payload[entry.name] = /^[[{]|^(true|false)$/.test(text) ? JSON.parse(text) : text;
    } catch {
      payload[entry.name] = text;
    }
  }
  return payload;
}
