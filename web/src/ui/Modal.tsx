import { lazy, Suspense, useState } from "react";
import type { ModalProps } from "./ModalShown";

const load = () => import("./ModalShown");
const ModalShown = lazy(load);
// Fetched with what may ask for it: a dialog opens at once, and without a server too.
void load().catch(() => undefined);

/** A dialog over the page; Escape closes it. */
export function Modal(props: ModalProps) {
  const [asked, setAsked] = useState(props.open);
  if (props.open && !asked) setAsked(true);
  return (
    asked && (
      <Suspense>
        <ModalShown {...props} />
      </Suspense>
    )
  );
}
