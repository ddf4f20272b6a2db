import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { Mark } from "../../ui/Mark";
import { Files } from "../../ui/Files";
import { Page } from "../../ui/Page";
import { Empty, ErrorBox, Loading } from "../../ui/states";
import { useOpenJob } from "../../ui/useOpenJob";
import { oneQuery, type Instrument } from "./api";
import { BackInService } from "./BackInService";
import { DriftPicture } from "./DriftPicture";
import { Facts } from "./Facts";
import { StartBy } from "./ChooseMethod";
import { Proposals } from "./Proposals";
import { ByItself } from "./ByItself";
import { SensorLife } from "./SensorLife";
import { Standing } from "./Standing";

/** One instrument: identity, limits with their source, drift, history, next due and why. */
export default function InstrumentPage({ user }: { user: Me }) {
  const { tag = "" } = useParams();
  const one = useQuery(oneQuery(tag));
  const open = useOpenJob();
  const [choosing, setChoosing] = useState(false);
  if (one.isPending) return <Loading what={tag} />;
  if (one.isError)
    return (
      <Page title={tag}>
        <ErrorBox error={one.error} onRetry={() => void one.refetch()} />
      </Page>
    );
  const i = one.data;
  return (
    <Page
      title={i.tag}
      aside={
        <>
          <p className="pb-1 text-muted">
            {i.description}, {i.area}
          </p>
          <div className="ml-auto flex flex-wrap gap-2">
            <a
              href={`api/v1/sheets/form/${encodeURIComponent(tag)}`}
              target="_blank"
              rel="noreferrer"
              className="grid min-h-11 place-items-center rounded-xl border border-line bg-card px-4"
            >
              Paper form
            </a>
            {user.can.includes("plant.setup") && (
              <>
                <Link
                  to={`/instruments/${encodeURIComponent(tag)}/record`}
                  className="grid min-h-11 place-items-center rounded-xl border border-line bg-card px-4"
                >
                  Change the record
                </Link>
                <Link
                  to={`/instruments/new?like=${encodeURIComponent(tag)}`}
                  className="grid min-h-11 place-items-center rounded-xl border border-line bg-card px-4"
                >
                  Set up one like it
                </Link>
              </>
            )}
            {!i.open_job && user.can.includes("job.open") && i.methods.length > 1 && (
              <Button onClick={() => setChoosing(true)}>Start by another method</Button>
            )}
            {i.open_job ? (
              <Link
                to={`/jobs/${i.open_job}`}
                className="min-h-11 rounded-xl bg-accent px-5 py-2.5 font-semibold text-on-accent"
              >
                Go on with {i.open_job}
              </Link>
            ) : (
              user.can.includes("job.open") && (
                <Button look="main" onClick={() => open.mutate({ tag })} disabled={open.isPending}>
                  Start a job{i.plans.length > 1 && `: ${i.method.short}`}
                </Button>
              )
            )}
          </div>
        </>
      }
    >
      {open.error && <ErrorBox error={open.error} />}
      {i.out_of_service && (
        <section className="mb-4 grid gap-3 rounded-2xl border-2 border-outside bg-card p-4">
          <p>
            <strong>Out of service</strong> {i.out_of_service}
          </p>
          {user.can.includes("instrument.plan") && <BackInService i={i} />}
        </section>
      )}
      <Standing i={i} />
      <Proposals i={i} may={user.can.includes("instrument.plan")} />
      {i.caution && (
        <p className="mb-4 rounded-lg border-l-4 border-caution-edge bg-caution px-4 py-2">
          {i.caution} Site procedure, permit and local code come first.
        </p>
      )}
      <div className="grid items-start gap-5 lg:grid-cols-[1fr_360px]">
        <div className="grid gap-5">
          <section className="rounded-2xl border border-line bg-card p-4">
            <h2 className="font-semibold">
              Drift{" "}
              <span className="text-[14px] font-normal text-muted">
                largest error in % of span, ○ as found, ● left after adjusting
                {i.past.some((p) => p.paper) && ", □ as an earlier paper says"}
              </span>
            </h2>
            <DriftPicture past={i.past} />
          </section>
          <ByItself i={i} />
          {i.sensors.length > 0 && <SensorLife sensors={i.sensors} />}
          <History past={i.past} />
          <Files about="instrument" of={i.tag} may={user.can.includes("file.add")} />
        </div>
        <Facts i={i} user={user} />
      </div>
      <StartBy open={choosing} onClose={() => setChoosing(false)} i={i} />
    </Page>
  );
}

function History({ past }: { past: Instrument["past"] }) {
  if (past.length === 0) return <Empty>No signed job yet. Start one to begin its history.</Empty>;
  return (
    <section className="relative overflow-x-auto rounded-2xl border border-line bg-card">
      <h2 className="px-4 pt-3 font-semibold">History</h2>
      <table className="w-full text-left text-[15px]">
        <thead className="text-[14px] text-muted">
          <tr>
            {["Day", "As found", "As left", "Cause named", "By", ""].map((head) => (
              <th key={head} scope="col" className="px-4 py-2 font-normal">
                {head || <span className="sr-only">Certificate</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {past.map((p) => (
            <tr key={p.job || `${p.day} ${p.paper}`} className="border-t border-line">
              <td className="digits px-4 py-2 whitespace-nowrap">{p.day}</td>
              <td className="digits px-4 whitespace-nowrap">
                {p.max_found} <Mark mark={p.mark_found} className="align-middle" />
              </td>
              <td className="digits px-4 whitespace-nowrap">
                {p.adjusted
                  ? p.max_left
                  : (p.mark_found || p.max_found) && !p.outcome && "as found"}{" "}
                {p.adjusted && <Mark mark={p.mark_left} className="align-middle" />}
                {p.outcome && (
                  <span className="block font-sans font-semibold text-outside">{p.outcome}</span>
                )}
              </td>
              <td className="px-4">{p.causes}</td>
              <td className="px-4">{p.signed_by}</td>
              <td className="px-4">
                {p.job ? (
                  <Link
                    className="inline-flex min-h-11 items-center underline"
                    to={`/jobs/${p.job}`}
                  >
                    {p.job}
                  </Link>
                ) : (
                  <>
                    paper {p.paper}
                    <span className="block text-[13.5px] text-muted">{p.brought}</span>
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
