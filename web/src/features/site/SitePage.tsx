import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { setCsrfToken } from "../../api/client";
import { VERSION } from "../../api/release";
import type { Me } from "../../api/session";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Page } from "../../ui/Page";
import { ErrorBox, Loading } from "../../ui/states";
import { Tabs } from "../../ui/Tabs";
import { wrongAt, WrongElsewhere } from "../../ui/wrong";
import { siteQuery, useChangePassword, useChangeSite, type Site } from "./api";
import { AreasPanel } from "./AreasPanel";
import { CalendarPanel } from "./CalendarPanel";
import { ListsPanel } from "./ListsPanel";
import { PeoplePanel } from "./PeoplePanel";
import { ScriptsPanel } from "./ScriptsPanel";
import { WaysIn } from "./WaysIn";
import { SITE_FIELDS, SiteFields } from "./SiteFields";

/** What belongs to the whole site: what is said of it, its people, and one's own password. */
export default function SitePage({ user }: { user: Me }) {
  const [params, setParams] = useSearchParams();
  const tabs = [
    ["site", "Site"],
    ...(user.can.includes("people.manage") ? [["people", "People"]] : []),
    ...(user.can.includes("plant.setup") ? [["areas", "Areas"]] : []),
    ["lists", "Lists"],
    ["calendar", "My calendar"],
    ["scripts", "Scripts"],
    ["password", "My sign-in"],
  ] as [string, string][];
  const asked = params.get("show") ?? "site";
  const shown = tabs.some(([id]) => id === asked) ? asked : "site";
  return (
    <Page
      title="Site"
      aside={
        <Tabs
          tabs={tabs}
          shown={shown}
          onShow={(id) => setParams(id === "site" ? {} : { show: id })}
        />
      }
    >
      {shown === "site" && <SiteTab mayChange={user.can.includes("site.change")} />}
      {shown === "site" && (
        <p className="mt-4 text-[14px] text-muted">
          Verify Loop <span className="digits">{VERSION}</span>,{" "}
          <a className="underline" href="licences.txt" target="_blank" rel="noreferrer">
            licences of its parts
          </a>
        </p>
      )}
      {shown === "people" && <PeoplePanel me={user.username} />}
      {shown === "areas" && <AreasPanel />}
      {shown === "lists" && <ListsPanel />}
      {shown === "calendar" && <CalendarPanel />}
      {shown === "scripts" && <ScriptsPanel />}
      {shown === "password" && (
        <div className="grid items-start gap-5 lg:grid-cols-2">
          <OwnPassword />
          <WaysIn />
        </div>
      )}
    </Page>
  );
}

function SiteTab({ mayChange }: { mayChange: boolean }) {
  const site = useQuery(siteQuery);
  if (site.isPending) return <Loading what="the site" />;
  if (site.isError) return <ErrorBox error={site.error} onRetry={() => void site.refetch()} />;
  return <SiteForm key={site.data.version} site={site.data} mayChange={mayChange} />;
}

function SiteForm({ site, mayChange }: { site: Site; mayChange: boolean }) {
  const [given, setGiven] = useState(site);
  const change = useChangeSite();
  return (
    <form
      className="grid gap-4 rounded-2xl border border-line bg-card p-5"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate({ ...given, version: site.version });
      }}
    >
      <SiteFields
        site={given}
        error={change.error}
        readOnly={!mayChange}
        whole
        onChange={(more) => setGiven({ ...given, ...more })}
      />
      <WrongElsewhere error={change.error} fields={SITE_FIELDS} />
      {mayChange && (
        <Button
          look="main"
          type="submit"
          className="justify-self-start"
          disabled={change.isPending}
        >
          Store
        </Button>
      )}
    </form>
  );
}

function OwnPassword() {
  const [said, setSaid] = useState({ old: "", new: "" });
  const change = useChangePassword();
  return (
    <form
      aria-label="Password"
      className="grid gap-3 rounded-2xl border border-line bg-card p-5"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate(said, {
          onSuccess: (session) => {
            setCsrfToken(session.csrf_token);
            setSaid({ old: "", new: "" });
          },
        });
      }}
    >
      <h2 className="font-semibold">Password</h2>
      <Field
        label="Password of now"
        type="password"
        autoComplete="current-password"
        value={said.old}
        problem={wrongAt(change.error, "old")}
        onChange={(e) => setSaid({ ...said, old: e.target.value })}
      />
      <Field
        label="New password, ten characters or more"
        type="password"
        autoComplete="new-password"
        value={said.new}
        problem={wrongAt(change.error, "new")}
        onChange={(e) => setSaid({ ...said, new: e.target.value })}
      />
      <WrongElsewhere error={change.error} fields={["old", "new"]} />
      {change.isSuccess && (
        <p role="status">
          It is changed. Other devices on which you were signed in are signed out.
        </p>
      )}
      <Button look="main" type="submit" disabled={change.isPending}>
        Change it
      </Button>
    </form>
  );
}
