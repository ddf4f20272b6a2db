import type { Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";

type Leave = { mutate: () => void; isPending: boolean; isError: boolean };
type Props = { on: Schemas["OnOut"][]; leave: Leave; onStay: () => void };

/** What of one's own is still on, before one leaves. */
export default function StillOn({ on, leave, onStay }: Props) {
  return (
    <Modal open onClose={onStay} title="Something of yours is still on">
      <ul className="mb-4 grid gap-1.5">
        {on.map((item) => (
          <li key={item.tag + item.label}>
            <strong>{item.tag}</strong>: {item.label}
          </li>
        ))}
      </ul>
      <p className="mb-4">
        It stays on when you sign out. Whoever goes on takes it over by name in the job.
      </p>
      <p className="flex flex-wrap justify-end gap-2">
        <Button onClick={() => leave.mutate()} disabled={leave.isPending}>
          Sign out all the same
        </Button>
        <Button look="main" autoFocus onClick={onStay}>
          Stay
        </Button>
      </p>
      {leave.isError && (
        <p role="alert" className="mt-3 text-outside">
          The server does not answer: you are still signed in.
        </p>
      )}
    </Modal>
  );
}
