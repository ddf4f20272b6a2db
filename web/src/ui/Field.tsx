import { forwardRef, useId, type InputHTMLAttributes } from "react";
import type { Problem } from "../api/client";

type Props = InputHTMLAttributes<HTMLInputElement> & {
  label: string;
  unit?: string;
  problem?: Problem | null;
  hint?: string;
  digits?: boolean;
  /** in a table, whose rows and columns say what it is: the label is read aloud, not drawn */
  bare?: boolean;
};

/** A labelled input with its unit, and what is wrong with it right beneath. */
export const Field = forwardRef<HTMLInputElement, Props>(function Field(
  { label, unit, problem, hint, digits = false, bare = false, className = "", ...rest },
  ref,
) {
  const id = useId();
  const help = problem ? `${id}-problem` : hint ? `${id}-hint` : undefined;
  return (
    <div className={className}>
      <label htmlFor={id} className={bare ? "sr-only" : "mb-1 block text-[14px] text-muted"}>
        {label}
      </label>
      <div className="flex items-center gap-2">
        <input
          id={id}
          ref={ref}
          autoComplete="off"
          aria-invalid={problem ? true : undefined}
          aria-describedby={help}
          className={`min-h-11 w-full min-w-0 rounded-[10px] border bg-card py-2 ${digits ? "digits text-xl" : ""} ${bare ? "px-2.5 placeholder:font-sans placeholder:text-[14px] placeholder:text-muted" : "px-3"} ${problem ? "border-2 border-outside" : "border-line"}`}
          {...rest}
        />
        {unit && <span className="shrink-0 text-muted">{unit}</span>}
      </div>
      {problem && (
        <p id={`${id}-problem`} role="alert" className="mt-1 text-[14px] text-outside">
          {problem.message} {problem.remedy}
        </p>
      )}
      {!problem && hint && (
        <p id={`${id}-hint`} className="mt-1 text-[14px] text-muted">
          {hint}
        </p>
      )}
    </div>
  );
});
