import { useEffect, useState } from "react";
import { person } from "./person";

/** The typed field of a job that was in focus last: a result of the Bench may go into it. */
export type Ask = {
  job: string;
  tag: string;
  seq: number;
  /** Where in the job, as its draft is called. */
  place: string;
  field: string;
  label: string;
  unit: string;
};

const key = () => `bench-for:${person()}`;

/** Keep which field it is, as long as its job stands as it did. */
export function useAsking(field: Ask | null) {
  const text = field && JSON.stringify(field);
  useEffect(() => {
    if (text) sessionStorage.setItem(key(), text);
  }, [text]);
}

function asked(): Ask | null {
  try {
    return JSON.parse(sessionStorage.getItem(key()) ?? "null") as Ask | null;
  } catch {
    return null;
  }
}

/** The field that asked, and how to forget it. */
export function useAsk(): [Ask | null, () => void] {
  const [field, setField] = useState(asked);
  return [
    field,
    () => {
      sessionStorage.removeItem(key());
      setField(null);
    },
  ];
}
