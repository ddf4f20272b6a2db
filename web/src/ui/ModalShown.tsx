import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";

export type ModalProps = {
  open: boolean;
  onClose: () => void;
  title: string;
  children: React.ReactNode;
};

/** A dialog over the page; Escape closes it. */
export default function ModalShown({ open, onClose, title, children }: ModalProps) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-20">
      <DialogBackdrop className="fixed inset-0 bg-black/55" />
      <div className="fixed inset-0 flex items-center justify-center p-4">
        <DialogPanel className="max-h-full w-full max-w-xl overflow-auto rounded-2xl border border-line bg-card p-6 shadow-xl">
          <DialogTitle className="mb-4 text-xl font-semibold">{title}</DialogTitle>
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
