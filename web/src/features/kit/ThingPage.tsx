import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { Problem } from "../../api/client";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { Files } from "../../ui/Files";
import { FormFields } from "../../ui/form/FormFields";
import type { Payload } from "../../ui/form/inputs";
import { useRecord } from "../../ui/form/useRecord";
import { Page } from "../../ui/Page";
import { ErrorBox, Loading } from "../../ui/states";
import { moment } from "../../ui/time";
import { useLater } from "../../ui/useLater";
import { Why } from "../../ui/Why";
import { WrongElsewhere } from "../../ui/wrong";
import { thingQuery, useStoreThing, useWithdraw, wrongQuery, type KitForm } from "./setup";

/** Something of the kit: new, or as it is on record with every change of it. */
export default function ThingPage({ user }: { user: Me }) {
  const { asset = "" } = useParams();
  const [params] = useSearchParams();
  const form = useQuery(thingQuery(asset, params.get("kind") ?? "", params.get("like") ?? ""));
  if (form.isPending) return <Loading what="the form" />;
  if (form.isError)
    return (
      <Page title={asset || "New in the kit"}>
        <ErrorBox error={form.error} onRetry={() => void form.refetch()} />
      </Page>
    );
  const may = user.can.includes("kit.setup");
  return (
    <Form key={asset + form.data.version} form={form.data} asset={asset} may={may} user={user} />
  );
}

type FormProps = { form: KitForm; asset: string; may: boolean; user: Me };

function Form({ form, asset, may, user }: FormProps) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const draft = `kit:${asset || form.kind}`;
  const { filled, record, change, forget } = useRecord(
    draft,
    form.sections,
    form.record as Payload,
  );
  const [pressed, setPressed] = useState(false);
  const [asking, setAsking] = useState<"" | "keep" | "withdraw">("");
  const later = useLater(JSON.stringify(record), 300);
  const check = useQuery({
    ...wrongQuery(form.kind, JSON.parse(later) as Payload, asset),
    enabled: may,
  });
  const store = useStoreThing(form, asset);
  const withdraw = useWithdraw(form, asset);
  const wrong = (check.data?.wrong ?? []) as Problem[];
  const shown = pressed ? wrong : wrong.filter((w) => w.code !== "field.missing");
  const send = (reason: string) =>
    store.mutate(
      { record, reason },
      {
        onSuccess: (made) => {
          forget();
          setAsking("");
          void navigate(`/kit/${encodeURIComponent(made.asset)}`);
        },
      },
    );
  // What was typed last may not have been looked at yet.
  const press = async () => {
    setPressed(true);
    const fresh = await queries.fetchQuery(wrongQuery(form.kind, record, asset)).catch(() => null);
    if (fresh && fresh.wrong.length > 0) return;
    if (asset) setAsking("keep");
    else send("");
  };
  const link = "grid min-h-11 place-items-center rounded-xl border border-line bg-card px-4";
  return (
    <Page
      title={asset || "New in the kit"}
      aside={
        <>
          <p className="pb-1 text-muted">{form.title}</p>
          <span className="ml-auto flex flex-wrap gap-2">
            <Link
              to={form.cylinder ? "/kit" : "/kit?show=references"}
              className={link}
              onClick={forget}
            >
              Back to the kit
            </Link>
            {may && asset && (
              <>
                <Link to={`/kit/new?like=${encodeURIComponent(asset)}`} className={link}>
                  Replace it by a new one
                </Link>
                <Button onClick={() => setAsking("withdraw")}>
                  {form.withdrawn ? "Back into use" : "Withdraw it"}
                </Button>
              </>
            )}
            {may && (
              <Button look="main" onClick={() => void press()} disabled={store.isPending}>
                Store
              </Button>
            )}
          </span>
        </>
      }
    >
      {form.withdrawn && (
        <p className="mb-4 rounded-xl border-2 border-outside bg-card px-4 py-3">
          Withdrawn: {form.withdrawn}. No job takes it.
        </p>
      )}
      <div className="grid gap-4">
        {form.sections.map((s) => (
          <section
            key={s.id}
            aria-label={s.title}
            className="rounded-2xl border border-line bg-card p-5"
          >
            <h2 className="mb-3 font-semibold">{s.title}</h2>
            <fieldset disabled={!may} className="min-w-0">
              <FormFields
                entries={s.entries}
                inputs={filled[s.id] ?? {}}
                onChange={(inputs) => change(s.id, inputs)}
                path={s.id === "own" ? "own." : ""}
                problems={shown}
                wide
              />
            </fieldset>
          </section>
        ))}
        {pressed && wrong.length > 0 && (
          <p role="status" className="text-outside">
            {wrong.length === 1 ? "One entry is" : `${wrong.length} entries are`} not right yet:
            each says so beside it.
          </p>
        )}
        {!asking && <WrongElsewhere error={store.error} fields={wrong.map((w) => w.field)} />}
        {asset && <Files about="kit" of={asset} may={user.can.includes("file.add")} />}
        {form.changes.length > 0 && (
          <section aria-label="Changes" className="rounded-2xl border border-line bg-card p-5">
            <h2 className="mb-2 font-semibold">Changes</h2>
            <ul>
              {form.changes.map((c) => (
                <li key={c.at + c.text} className="border-t border-line py-1.5 first:border-t-0">
                  <span className="text-muted">
                    {moment(c.at)} {c.by}:
                  </span>{" "}
                  {c.text}
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
      {asking === "keep" && (
        <Why
          error={store.error}
          busy={store.isPending}
          onClose={() => setAsking("")}
          onSend={send}
        />
      )}
      {asking === "withdraw" && (
        <Why
          error={withdraw.error}
          busy={withdraw.isPending}
          onClose={() => setAsking("")}
          onSend={(reason) => withdraw.mutate(reason, { onSuccess: () => setAsking("") })}
        />
      )}
    </Page>
  );
}
