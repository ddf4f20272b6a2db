import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { Problem } from "../../../api/client";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { Mark } from "../../../ui/Mark";
import { Page } from "../../../ui/Page";
import { Pick } from "../../../ui/Pick";
import { ErrorBox, Loading } from "../../../ui/states";
import { useLater } from "../../../ui/useLater";
import { Why } from "../../../ui/Why";
import { WrongElsewhere } from "../../../ui/wrong";
import { FormFields } from "../../../ui/form/FormFields";
import type { Inputs, Payload } from "../../../ui/form/inputs";
import { useRecord } from "../../../ui/form/useRecord";
import { fitsQuery, formQuery, useStoreRecord, type RecordForm, type Section } from "./api";
import { FitPanel } from "./FitPanel";

/** A new instrument, or the record of one that is there. */
export default function SetupPage() {
  const { tag = "" } = useParams();
  const [params] = useSearchParams();
  const template = params.get("template") ?? "";
  const like = params.get("like") ?? "";
  const form = useQuery(formQuery(tag, template, like));
  if (form.isPending) return <Loading what="the form" />;
  if (form.isError)
    return (
      <Page title={tag || "New instrument"}>
        <ErrorBox error={form.error} onRetry={() => void form.refetch()} />
      </Page>
    );
  const draft = `setup:${tag || `new ${template || like}`}`;
  const said = tag
    ? "what is on record; a change says why"
    : `${like ? `from ${like}, as a copy` : form.data.kind} · nothing is stored until you say so`;
  return <Form key={draft} form={form.data} tag={tag} said={said} draft={draft} />;
}

type FormProps = { form: RecordForm; tag: string; said: string; draft: string };

function Form({ form, tag, said, draft }: FormProps) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { filled, record, change, forget } = useRecord(
    draft,
    form.sections,
    form.record as Payload,
  );
  const [at, setAt] = useState(form.sections[0]?.id ?? "");
  const [pressed, setPressed] = useState(false);
  const [asking, setAsking] = useState(false);
  const later = useLater(JSON.stringify(record), 300);
  const fits = useQuery(fitsQuery(form.base, JSON.parse(later) as Payload, tag));
  const store = useStoreRecord(form, tag);
  const wrong = (fits.data?.wrong ?? []) as Problem[];
  // What is missing is said once somebody wants to store it.
  const shown = pressed ? wrong : wrong.filter((w) => w.code !== "field.missing");
  const done = (to: string) => {
    forget();
    void navigate(`/instruments/${encodeURIComponent(to)}`);
  };
  const send = (reason: string) =>
    store.mutate({ record, reason }, { onSuccess: (made) => done(made.tag) });
  // What was typed last may not have been looked at yet.
  const press = async () => {
    setPressed(true);
    const fresh = await queries.fetchQuery(fitsQuery(form.base, record, tag)).catch(() => null);
    const first = fresh?.wrong[0];
    if (first) setAt(sectionOf(form, first.field));
    else if (tag) setAsking(true);
    else send("");
  };
  const section = form.sections.find((s) => s.id === at) ?? form.sections[0];
  return (
    <main className="mx-auto max-w-[1280px] px-5 py-5">
      <header className="mb-4 flex flex-wrap items-end gap-x-4 gap-y-2">
        <h1 className="text-[28px] leading-tight font-semibold">{tag || "New instrument"}</h1>
        <p className="pb-0.5 text-muted">{said}</p>
        <span className="ml-auto flex gap-2">
          <Link
            to={tag ? `/instruments/${encodeURIComponent(tag)}` : "/instruments"}
            onClick={forget}
            className="grid min-h-11 place-items-center rounded-xl border border-line bg-card px-4"
          >
            Leave
          </Link>
          <Button look="main" onClick={() => void press()} disabled={store.isPending}>
            Store
          </Button>
        </span>
      </header>
      <div className="grid items-start gap-3 lg:grid-cols-[200px_minmax(0,1fr)_330px]">
        <nav aria-label="Parts of the form" className="rounded-2xl border border-line bg-card p-2">
          {form.sections.map((s) => (
            <button
              key={s.id}
              type="button"
              aria-current={s.id === section?.id ? "true" : undefined}
              onClick={() => setAt(s.id)}
              className="flex min-h-11 w-full items-center rounded-xl px-3 text-left hover:bg-sunk aria-[current]:bg-accent-soft aria-[current]:font-semibold"
            >
              <span className="flex-1">{s.title}</span>
              <State wrong={wrong.filter((w) => sectionOf(form, w.field) === s.id)} />
            </button>
          ))}
          <p className="mt-2 border-t border-line px-3 pt-3 pb-1 text-[13.5px] text-muted">
            The fields come from the kind of instrument: {form.kind.toLowerCase()}.
          </p>
        </nav>
        <section
          aria-label={section?.title}
          className="min-h-[420px] rounded-2xl border border-line bg-card p-5"
        >
          <h2 className="mb-3 font-semibold">{section?.title}</h2>
          {section && (
            <Fields
              section={section}
              inputs={filled[section.id] ?? {}}
              methods={fits.data?.methods ?? []}
              problems={shown}
              onChange={(inputs) => change(section.id, inputs)}
            />
          )}
          {!asking && <WrongElsewhere error={store.error} fields={wrong.map((w) => w.field)} />}
        </section>
        <aside aria-live="polite" className="rounded-2xl border border-line bg-card p-4">
          <FitPanel fits={fits.data} />
        </aside>
      </div>
      {asking && (
        <Why
          error={store.error}
          busy={store.isPending}
          onClose={() => setAsking(false)}
          onSend={send}
        />
      )}
    </main>
  );
}

/** In which part of the form a field stands. */
function sectionOf(form: RecordForm, field: string): string {
  const [first = "", second = ""] = field.split(".");
  const held = form.sections.find((s) =>
    s.id === "own"
      ? first === "own" && s.entries.some((e) => e.name === second)
      : s.entries.some((e) => e.name === first),
  );
  return held?.id ?? form.sections[0]?.id ?? "";
}

function State({ wrong }: { wrong: Problem[] }) {
  if (wrong.some((w) => w.code !== "field.missing")) return <Mark mark="outside" />;
  if (wrong.length === 0) return <Mark mark="within" />;
  return (
    <span className="text-muted" role="img" aria-label="not whole yet">
      ○
    </span>
  );
}

type FieldsProps = {
  section: Section;
  inputs: Inputs;
  methods: { id: string; title: string }[];
  problems: Problem[];
  onChange: (inputs: Inputs) => void;
};

function Fields({ section, inputs, methods, problems, onChange }: FieldsProps) {
  const path = section.id === "own" ? "own." : "";
  if (section.id !== "plan")
    return (
      <FormFields
        entries={section.entries}
        inputs={inputs}
        onChange={onChange}
        path={path}
        problems={problems}
      />
    );
  const at = (field: string) => problems.find((p) => p.field === field) ?? null;
  const text = (name: string) => {
    const value = inputs[name];
    return typeof value === "string" ? value : "";
  };
  const known = methods.some((m) => m.id === text("method"));
  return (
    <div className="grid max-w-md gap-3">
      <Pick
        label="Method"
        none={known ? undefined : "choose; what fits is offered once the record is whole"}
        choices={methods.map((m) => ({ value: m.id, label: m.title }))}
        value={known ? text("method") : ""}
        problem={at("method")}
        onChange={(e) => onChange({ ...inputs, method: e.target.value })}
      />
      <Field
        label="First due"
        type="date"
        value={text("next_due")}
        problem={at("next_due")}
        onChange={(e) => onChange({ ...inputs, next_due: e.target.value })}
      />
    </div>
  );
}
