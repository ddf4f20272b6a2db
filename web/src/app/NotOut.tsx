import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";

/** Signing out did not come through: who sits down next would act in this person's name. */
export default function NotOut({ onClose }: { onClose: () => void }) {
  return (
    <Modal open onClose={onClose} title="You are still signed in">
      <p role="alert" className="mb-4">
        The server does not answer, so nobody was signed out. Close or lock this device, and sign
        out when the server answers.
      </p>
      <p className="flex justify-end">
        <Button look="main" autoFocus onClick={onClose}>
          Go on
        </Button>
      </p>
    </Modal>
  );
}
