import { useState } from "react";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { part } from "../../ui/part";
import { asAddress, type Sought, type Those } from "./finding";

const MoveTogether = part(async () => ({ default: (await import("./Together")).MoveTogether }));
const PlanTogether = part(async () => ({ default: (await import("./Together")).PlanTogether }));

type Props = {
  user: Me;
  those: Those;
  sought: Sought;
  /** how many fit what is looked for, where they are not all chosen */
  more: number;
  onAll: () => void;
  onClear: () => void;
};

/** What may be done with the instruments that are chosen. */
export function ChosenBar({ user, those, sought, more, onAll, onClear }: Props) {
  const [doing, setDoing] = useState<"" | "move" | "plan">("");
  const query = those.find ? asAddress(sought) : new URLSearchParams();
  for (const tag of those.find ? [] : (those.tags ?? [])) query.append("tags", tag);
  const link = (path: string, label: string, file = false) => (
    <a
      href={`${path}?${query.toString()}`}
      download={file || undefined}
      target={file ? undefined : "_blank"}
      rel="noreferrer"
      className="grid min-h-11 place-items-center rounded-xl border border-line bg-card px-4"
    >
      {label}
    </a>
  );
  return (
    <div
      role="region"
      aria-label="Chosen"
      className="mb-3 flex flex-wrap items-center gap-2 rounded-2xl bg-accent-soft px-4 py-2"
    >
      <strong>
        <span className="digits">{those.count}</span> chosen
      </strong>
      {more > those.count && (
        <button type="button" onClick={onAll} className="min-h-11 px-2 underline">
          all <span className="digits">{more}</span> that fit
        </button>
      )}
      <button type="button" onClick={onClear} className="min-h-11 px-2 underline">
        none
      </button>
      <span className="ml-auto flex flex-wrap gap-2">
        {user.can.includes("instrument.plan") && (
          <Button onClick={() => setDoing("move")}>Move the due day</Button>
        )}
        {user.can.includes("method.change") && (
          <Button onClick={() => setDoing("plan")}>Plan a method</Button>
        )}
        {link("api/v1/sheets/labels/instruments", "Labels")}
        {link("api/v1/lists/instruments/list.xlsx", "As XLSX", true)}
        {link("api/v1/lists/instruments/list.csv", "As CSV", true)}
      </span>
      {doing === "move" && (
        <MoveTogether those={those} onDone={onClear} onClose={() => setDoing("")} />
      )}
      {doing === "plan" && (
        <PlanTogether those={those} onDone={onClear} onClose={() => setDoing("")} />
      )}
    </div>
  );
}
