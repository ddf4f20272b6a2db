import { useState } from "react";
import type { Problem } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Reason } from "./Reason";

type Props = {
  label: string;
  problem: Problem | null;
  busy: boolean;
  onReason: (reason: string) => void;
};

/** The true answer where what a step asks for cannot be had here; it takes a reason. */
export function IfNot({ label, problem, busy, onReason }: Props) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button className="w-full" onClick={() => setOpen(true)}>
        {label}
      </Button>
    );
  return (
    <div className="rounded-xl border border-line p-3">
      <Reason
        label="Why not?"
        autoFocus
        suggestions={["No second one here", "Not allowed in this plant state"]}
        button={label}
        problem={problem}
        busy={busy}
        onReason={onReason}
      />
    </div>
  );
}
