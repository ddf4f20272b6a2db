import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Modal } from "../../ui/Modal";
import { ErrorBox, Loading } from "../../ui/states";
import { kindsQuery } from "./setup";

/** What is put into the kit. */
export default function NewThing({ onClose }: { onClose: () => void }) {
  const kinds = useQuery(kindsQuery);
  return (
    <Modal open onClose={onClose} title="New in the kit: what is it?">
      {kinds.isPending && <Loading what="the kinds" />}
      {kinds.isError && <ErrorBox error={kinds.error} />}
      <ul className="grid gap-1">
        {kinds.data?.map((k) => (
          <li key={k.id}>
            <Link
              to={`/kit/new?kind=${k.id}`}
              className="flex min-h-11 items-center rounded-xl px-3 hover:bg-sunk"
            >
              {k.title}
            </Link>
          </li>
        ))}
      </ul>
    </Modal>
  );
}
