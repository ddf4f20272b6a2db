import { ArrowRightStartOnRectangleIcon } from "@heroicons/react/24/outline";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap, type Schemas } from "../api/client";
import { part } from "../ui/part";
import { noPerson } from "../ui/person";

const NotOut = part(() => import("./NotOut"));
const StillOn = part(() => import("./StillOn"));

/** Signing out; while something of one's own is on it asks first, and names it. */
export function SignOutButton({ name, role }: { name: string; role: string }) {
  const queries = useQueryClient();
  const [on, setOn] = useState<Schemas["OnOut"][]>([]);
  const leave = useMutation({
    mutationFn: () => unwrap(client.DELETE("/api/v1/session")),
    onSuccess: () => {
      queries.clear();
      noPerson();
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
      {on.length > 0 && <StillOn on={on} leave={leave} onStay={() => setOn([])} />}
      {on.length === 0 && leave.isError && <NotOut onClose={leave.reset} />}
    </>
  );
}
