import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { here } from "../../api/release";
import { client, unwrap } from "../../api/client";
import { Button } from "../../ui/Button";
import { ErrorBox, Loading } from "../../ui/states";
import { WrongElsewhere } from "../../ui/wrong";

const KEY = ["calendar"] as const;

/** What is planned, in a calendar of one's own: a secret address that other programs read. */
export function CalendarPanel() {
  const queries = useQueryClient();
  const has = useQuery({ queryKey: KEY, queryFn: () => unwrap(client.GET("/api/v1/calendar")) });
  const onSuccess = () => queries.invalidateQueries({ queryKey: KEY });
  const make = useMutation({
    mutationFn: () => unwrap(client.POST("/api/v1/calendar")),
    onSuccess,
  });
  const end = useMutation({
    mutationFn: () => unwrap(client.DELETE("/api/v1/calendar")),
    onSuccess: () => {
      make.reset();
      return onSuccess();
    },
  });
  const mail = useMutation({
    mutationFn: (on: boolean) => unwrap(client.PUT("/api/v1/calendar/mail", { body: { on } })),
    onSuccess,
  });
  if (has.isPending) return <Loading what="the calendar" />;
  if (has.isError) return <ErrorBox error={has.error} onRetry={() => void has.refetch()} />;
  const link = make.data && here(make.data.path);
  return (
    <section className="grid max-w-2xl gap-3 rounded-2xl border border-line bg-card p-5">
      <p>
        Every planned day within a year, as a calendar to subscribe to. Who knows the address reads
        it without signing in: tags, what they measure, areas and days; no names and no results.
      </p>
      {link && (
        <p className="rounded-lg bg-sunk px-3 py-2 text-[14px] break-all">
          <span className="block text-muted">Shown only now:</span>
          {link}
        </p>
      )}
      <WrongElsewhere error={make.error ?? end.error} fields={[]} />
      <p className="flex flex-wrap gap-2">
        <Button look="main" disabled={make.isPending} onClick={() => make.mutate()}>
          {has.data.there ? "Make a new address; the old one ends" : "Make an address"}
        </Button>
        {has.data.there && (
          <Button disabled={end.isPending} onClick={() => end.mutate()}>
            End it
          </Button>
        )}
      </p>
      <hr className="border-line" />
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-5 accent-accent"
          checked={has.data.mail}
          disabled={mail.isPending}
          onChange={(e) => mail.mutate(e.target.checked)}
        />
        What is due by e-mail every morning{has.data.address && `, to ${has.data.address}`}
      </label>
      <WrongElsewhere error={mail.error} fields={[]} />
    </section>
  );
}
