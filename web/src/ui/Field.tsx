import { forwardRef, useId, type InputHTMLAttributes } from "react";
import type { Problem } from "../api/client";

type Props = InputHTMLAttributes<HTMLInputElement> & {
  label: string;
  unit?: string;
  problem?: Problem | null;
  hint?: string;
  digits?: boolean;
  /** in a table, whose row is said above: the word of its column stands small inside the field */
  inside?: string;
};

/** A labelled input with its unit, and what is wrong with it right beneath. */
export const Field = forwardRef<HTMLInputElement, Props>(function Field(
  { label, unit, problem, hint, digits = false, inside, className = "", ...rest },
  ref,
) {
  const id = useId();
  const help = problem ? `${id}-problem` : hint ? `${id}-hint` : undefined;
  return (
    <div className={className}>
      <label htmlFor={id} className={inside ? "sr-only" : "mb-1 block text-[14px] text-muted"}>
        {label}
      </label>
      <div className="relative flex items-center gap-2">
        {inside && (
          <span
            aria-hidden
            className="pointer-events-none absolute top-1 left-2.5 text-[12px] leading-none text-muted"
          >
            {inside}
          </span>
        )}
        <input
          id={id}
          ref={ref}
          autoComplete="off"
          aria-invalid={problem ? true : undefined}
          aria-describedby={help}
          className={`min-h-11 w-full min-w-0 rounded-[10px] border bg-card ${digits ? "digits text-xl" : ""} ${inside ? "px-2.5 pt-4 pb-0.5" : "px-3 py-2"} ${problem ? "border-2 border-outside" : "border-line"}`}
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
