import { ArrowRightStartOnRectangleIcon } from "@heroicons/react/24/outline";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap, type Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";

/** Signing out; while something of one's own is on it asks first, and names it. */
export function SignOutButton({ name, role }: { name: string; role: string }) {
  const queries = useQueryClient();
  const [on, setOn] = useState<Schemas["OnOut"][]>([]);
  const leave = useMutation({
    mutationFn: () => unwrap(client.DELETE("/api/v1/session")),
    onSuccess: () => {
      queries.clear();
      window.location.assign(document.baseURI);
    },
  });
  const ask = useMutation({
    mutationFn: () => unwrap(client.GET("/api/v1/safety/mine")),
    onSuccess: (mine) => (mine.items.length ? setOn(mine.items) : leave.mutate()),
    // Without an answer nobody is kept from leaving.
    onError: () => leave.mutate(),
  });
  return (
    <>
      <button
        type="button"
        onClick={() => ask.mutate()}
        className="flex min-h-11 min-w-11 flex-col items-center rounded-[10px] px-0.5 py-1.5 text-center text-[13px] leading-tight hover:bg-white/10 md:w-[76px]"
      >
        <ArrowRightStartOnRectangleIcon className="size-5" aria-hidden="true" />
        {name.split(" ")[0]}
        <span className="text-[12px] opacity-80 max-md:sr-only">{role}</span>
        <span className="sr-only">: sign out</span>
      </button>
      <Modal open={on.length > 0} onClose={() => setOn([])} title="Something of yours is still on">
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
          <Button look="main" autoFocus onClick={() => setOn([])}>
            Stay
          </Button>
        </p>
        {leave.isError && (
          <p role="alert" className="mt-3 text-outside">
            The server does not answer: you are still signed in.
          </p>
        )}
      </Modal>
    </>
  );
}
