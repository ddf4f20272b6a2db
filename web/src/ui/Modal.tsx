import { useState } from "react";
import type { ModalProps } from "./ModalShown";
import { part } from "./part";

const ModalShown = part(() => import("./ModalShown"));

/** A dialog over the page; Escape closes it. */
export function Modal(props: ModalProps) {
  const [asked, setAsked] = useState(props.open);
  if (props.open && !asked) setAsked(true);
  return asked && <ModalShown {...props} />;
}
