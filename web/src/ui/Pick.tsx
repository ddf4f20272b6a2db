import { useId, type SelectHTMLAttributes } from "react";
import type { Problem } from "../api/client";

type Props = SelectHTMLAttributes<HTMLSelectElement> & {
  label: string;
  choices: readonly (string | { value: string; label: string })[];
  /** Said where nothing is chosen yet. */
  none?: string;
  problem?: Problem | null;
};

/** A labelled choice, and what is wrong with it right beneath. */
export function Pick({ label, choices, none, problem, className = "", ...rest }: Props) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-[14px] text-muted">
        {label}
      </label>
      <select
        id={id}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem ? `${id}-problem` : undefined}
        className={`min-h-11 w-full min-w-0 rounded-[10px] border bg-card px-3 py-2 ${problem ? "border-2 border-outside" : "border-line"}`}
        {...rest}
      >
        {none !== undefined && <option value="">{none}</option>}
        {choices.map((c) => {
          const { value, label: words } = typeof c === "string" ? { value: c, label: c } : c;
          return (
            <option key={value} value={value}>
              {words}
            </option>
          );
        })}
      </select>
      {problem && (
        <p id={`${id}-problem`} role="alert" className="mt-1 text-[14px] text-outside">
          {problem.message} {problem.remedy}
        </p>
      )}
    </div>
  );
}
