import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { ApiError, type Problem } from "../../api/client";
import { Button } from "../../ui/Button";
import { ErrorBox, Loading } from "../../ui/states";
import { useLater } from "../../ui/useLater";
import { benchQueries, type Form, type Payload, type Result } from "./api";
import { useForJob } from "./ForJob";
import { FormFields, widestList } from "../../ui/form/FormFields";
import { fromAddress, toAddress, toInputs, toPayload, type Inputs } from "../../ui/form/inputs";
import { remember } from "./recent";
import { ResultPane } from "./ResultPane";
import { TableMaker } from "./TableMaker";

/** One calculator: its form once that is known. */
export function CalculatorPane({ name, visit }: { name: string; visit: string }) {
  const form = useQuery(benchQueries.form(name));
  useEffect(() => {
    if (form.isSuccess) remember(name);
  }, [name, form.isSuccess]);
  if (form.isPending) return <Loading what="the calculator" />;
  if (form.isError) return <ErrorBox error={form.error} onRetry={() => void form.refetch()} />;
  return <Calculator form={form.data} visit={visit} />;
}

const problemOf = (error: Error | null): Problem | null =>
  error instanceof ApiError ? error.problem : null;

/** A wide list of inputs stands above its result, not beside it. */
const columns = (form: Form) => {
  const wide = widestList(form.entries);
  if (wide > 6) return "grid-cols-[minmax(0,1fr)]";
  if (wide > 4) return "xl:grid-cols-[minmax(0,10fr)_minmax(0,7fr)]";
  return wide > 2
    ? "xl:grid-cols-[minmax(0,11fr)_minmax(0,10fr)]"
    : "xl:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]";
};

/**
 * What the fields hold at first: the example; or what the address holds; or what a find held, with
 * the example only where a value is needed and the defaults everywhere else.
 */
function startOf(form: Form, address: URLSearchParams) {
  const came = fromAddress(form.entries, address);
  const names = Object.keys(came);
  if (names.length === 0) return { example: true, inputs: toInputs(form.entries, form.example) };
  if (!address.has("found")) return { example: false, inputs: toInputs(form.entries, came) };
  const needed = new Set(form.entries.filter((e) => e.required).map((e) => e.name));
  const kept = Object.entries(form.example).filter(([name]) => needed.has(name));
  const given = { ...Object.fromEntries(kept), ...came };
  const example = kept.some(([name]) => !(name in came));
  return { example, inputs: toInputs(form.entries, given) };
}

/** Inputs, result as they are typed, how it was computed. The address holds the inputs. */
function Calculator({ form, visit }: { form: Form; visit: string }) {
  const [address] = useSearchParams();
  const navigate = useNavigate();
  const [start] = useState(() => startOf(form, address));
  const [inputs, setInputs] = useState<Inputs>(start.inputs);
  const payload = useMemo(() => toPayload(form.entries, inputs), [form, inputs]);
  const settled = useLater(payload, 90);
  const result = useQuery({
    ...benchQueries.result(form.name, settled),
    placeholderData: keepPreviousData,
  });
  const fields = useRef<HTMLFormElement>(null);
  useEffect(() => {
    fields.current?.querySelector<HTMLElement>("input, select")?.focus();
  }, []);
  const change = (next: Inputs) => {
    setInputs(next);
    const search = toAddress(toPayload(form.entries, next)).toString();
    void navigate({ search }, { replace: true, state: { visit } });
  };
  const problem = problemOf(result.error);
  const { bar, use } = useForJob();
  // A figure of what stood there before is never used.
  const fresh = settled === payload && result.isSuccess && !result.isPlaceholderData;
  return (
    <article className="min-w-0">
      {bar}
      <header className="mb-3 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
        <div>
          <p className="text-[14px] text-muted">{form.family}</p>
          <h2 className="text-2xl leading-tight font-semibold">{form.title}</h2>
        </div>
        <Actions form={form} payload={payload} result={result.data} />
      </header>
      <div className={`grid gap-5 ${columns(form)}`}>
        <form
          ref={fields}
          aria-label="Inputs"
          className="min-w-0 content-start"
          onSubmit={(e) => e.preventDefault()}
        >
          {start.example && (
            <p className="mb-3 rounded-lg bg-accent-soft px-3 py-2 text-[14px] print:hidden">
              What you did not give is filled in as an example: type over it.
            </p>
          )}
          <FormFields
            entries={form.entries}
            inputs={inputs}
            onChange={change}
            problems={problem ? [problem] : []}
            oneOf={form.one_of}
            wide={widestList(form.entries) > 6}
          />
        </form>
        <ResultPane
          key={form.name}
          result={result.data}
          problem={problem}
          use={fresh ? use : null}
        />
      </div>
      <How form={form} result={problem ? undefined : result.data} />
      {form.table && <TableMaker form={form} payload={payload} />}
    </article>
  );
}

function Actions({
  form,
  payload,
  result,
}: {
  form: Form;
  payload: Payload;
  result: Result | undefined;
}) {
  const navigate = useNavigate();
  const [copied, setCopied] = useState(false);
  const copy = async (text: string) => {
    await navigator.clipboard.writeText(text);
    setCopied(true);
    setTimeout(() => setCopied(false), 2000);
  };
  const turn = () => {
    const both = { ...payload, ...(result?.result ?? {}) };
    void navigate(`/bench/${form.inverse}?turned=1&${toAddress(plain(both)).toString()}`);
  };
  return (
    <div className="flex flex-wrap gap-2 print:hidden">
      {form.inverse && (
        <Button onClick={turn} disabled={!result}>
          The other way round
        </Button>
      )}
      <Button disabled={!result} onClick={() => result && void copy(result.text)}>
        {copied ? "Copied" : "Copy as text"}
      </Button>
      <Button onClick={() => window.print()}>Print</Button>
    </div>
  );
}

/** Only what an address can carry into the inverse: its own fields are picked out there. */
const plain = (values: Payload): Payload =>
  Object.fromEntries(
    Object.entries(values)
      .filter(([, v]) => typeof v === "string" || typeof v === "number")
      .map(([k, v]) => [k, String(v)]),
  );

/** How was this computed? Formula, the numbers put in, source, cautions. */
function How({ form, result }: { form: Form; result: Result | undefined }) {
  return (
    <section
      aria-label="How was this computed?"
      className="mt-5 grid gap-x-8 gap-y-4 rounded-xl border border-line bg-card p-4 lg:grid-cols-[3fr_2fr]"
    >
      <div className="min-w-0">
        <h3 className="font-semibold">How was this computed?</h3>
        <p className="mt-1 text-[15px]">{form.formula}</p>
        {result && result.how.worked.length > 0 && (
          <ul className="digits mt-2 grid gap-0.5 text-[14px]">
            {result.how.worked.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        )}
        <p className="mt-2 text-[14px] text-muted">Source: {form.source}</p>
      </div>
      {form.cautions.length > 0 && (
        <ul className="grid content-start gap-2">
          {form.cautions.map((text) => (
            <li
              key={text}
              className="rounded-lg border-l-4 border-caution-edge bg-caution px-3 py-2 text-[15px]"
            >
              {text}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
