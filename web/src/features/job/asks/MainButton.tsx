import type { ReactNode } from "react";
import { Button } from "../../../ui/Button";
import { deliberate } from "../../../ui/deliberate";

type Props = { onClick: () => void; busy?: boolean; inText?: boolean; children: ReactNode };

/**
 * The one next action. Enter presses it, once; it keeps the focus while it is busy.
 * In a text it stays where it stands, and the text is not scrolled away to it.
 */
export function MainButton({ onClick, busy = false, inText = false, children }: Props) {
  return (
    <Button
      look="main"
      data-main="true"
      autoFocus={!inText}
      aria-disabled={busy}
      className={`${inText ? "" : "sticky bottom-0 z-[1]"} flex w-full items-center justify-center gap-3`}
      onClick={(event) => {
        if (deliberate(event) && !busy) onClick();
      }}
    >
      <span>{children}</span>
      <kbd className="pointer-coarse:hidden rounded bg-white/20 px-2 py-0.5 text-[13px]">Enter</kbd>
    </Button>
  );
}
