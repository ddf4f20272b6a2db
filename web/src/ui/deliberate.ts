import type { KeyboardEvent, MouseEvent } from "react";

/** So long after a tap another one may be its second half, or the finger still there. [ms] */
const TOO_SOON = 450;

let last = -Infinity;

/** Tell whether a press is an act of its own: not the second tap of a double tap. */
export function deliberate(event: MouseEvent<HTMLElement>): boolean {
  // A key press comes as a click without a count; a held key is stopped in `noRepeat`.
  if (event.detail === 0) return true;
  const soon = event.timeStamp - last < TOO_SOON;
  last = event.timeStamp;
  return !soon && event.detail === 1;
}

/** A key that is held down presses once. */
export function noRepeat(event: KeyboardEvent<HTMLElement>) {
  if (event.repeat && (event.key === "Enter" || event.key === " ")) event.preventDefault();
}
