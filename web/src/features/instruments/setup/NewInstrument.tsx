import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Modal } from "../../../ui/Modal";
import { ErrorBox, Loading } from "../../../ui/states";
import { templatesQuery } from "./api";

/** With what a new instrument begins: the usual record of a kind; a copy is made from its page. */
export default function NewInstrument({ onClose }: { onClose: () => void }) {
  const templates = useQuery(templatesQuery);
  return (
    <Modal open onClose={onClose} title="A new instrument: what is it?">
      {templates.isPending && <Loading what="the kinds" />}
      {templates.isError && <ErrorBox error={templates.error} />}
      <ul className="grid gap-1">
        {templates.data?.map((t) => (
          <li key={t.id}>
            <Link
              to={`/instruments/new?template=${t.id}`}
              className="flex min-h-11 items-center rounded-xl px-3 hover:bg-sunk"
            >
              {t.title}
            </Link>
          </li>
        ))}
      </ul>
      <p className="mt-3 text-[14px] text-muted">
        One like another begins on the page of that other: “Set up one like it”.
      </p>
    </Modal>
  );
}
