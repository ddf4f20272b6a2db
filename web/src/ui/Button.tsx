import type { ButtonHTMLAttributes } from "react";
import { noRepeat } from "./deliberate";

type Props = ButtonHTMLAttributes<HTMLButtonElement> & { look?: "main" | "plain" | "quiet" };

const LOOKS = {
  main: "bg-accent text-on-accent text-lg font-semibold px-5 py-3 disabled:bg-accent-idle aria-disabled:bg-accent-idle",
  plain: "border border-line bg-card px-4 py-2 disabled:opacity-55",
  quiet: "px-3 py-2 underline underline-offset-4 disabled:opacity-55",
};

/** A button big enough for gloves. */
export function Button({ look = "plain", className = "", ...rest }: Props) {
  return (
    <button
      type="button"
      onKeyDown={noRepeat}
      className={`min-h-11 rounded-xl text-center ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
