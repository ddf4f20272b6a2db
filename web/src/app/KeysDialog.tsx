import { Modal } from "../ui/Modal";

const KEYS = [
  ["t", "Today"],
  ["i", "Instruments"],
  ["k", "Kit: gas on the shelf, sensors to order"],
  ["b", "Bench: type what you have in mind, Enter"],
  ["r", "Records"],
  ["s", "Site"],
  ["f", "Find anything, from anywhere"],
  ["/", "Search, where there is a search"],
  ["Enter", "The next action: go to the point, take the reading, confirm"],
  ["e", "In a run: type the reading in, or back to live"],
  ["u", "In a job: undo the last entry"],
  ["n", "In a job: add a note"],
  ["1 2 3 4", "In a job: result, steps, history, limits"],
  ["?", "These keys"],
] as const;

/** Which keys do what. */
export default function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Modal open={open} onClose={onClose} title="Keys">
      <dl className="grid grid-cols-[96px_1fr] gap-y-2">
        {KEYS.map(([key, what]) => (
          <div key={key} className="contents">
            <dt>
              <kbd className="rounded bg-sunk px-2 py-1">{key}</kbd>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  );
}
