import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { BrowserRouter, Route, Routes } from "react-router";
import { ApiError, SIGNED_OUT } from "../api/client";
import { BASE } from "../api/release";
import { sessionQuery, type Me } from "../api/session";
import TodayPage from "../features/today/TodayPage";
import { part } from "../ui/part";
import { asPerson } from "../ui/person";
import { ErrorBox, Loading } from "../ui/states";
import { Shell } from "./Shell";

const NoServer = part(
  () => import("./NoServer"),
  () => <p className="p-8">The server does not answer.</p>,
);
const ThePage = () => <Loading what="the page" />;
const SignInPage = part(() => import("../features/session/SignInPage"), ThePage);
const SignInAgain = part(() => import("./SignInAgain"));
const JobPage = part(() => import("../features/job/JobPage"), ThePage);
const InstrumentsPage = part(() => import("../features/instruments/InstrumentsPage"), ThePage);
const InstrumentPage = part(() => import("../features/instruments/InstrumentPage"), ThePage);
const MethodsPage = part(() => import("../features/methods/MethodsPage"), ThePage);
const BenchPage = part(() => import("../features/bench/BenchPage"), ThePage);
const TablesPage = part(() => import("../features/bench/TablesPage"), ThePage);
const ThingPage = part(() => import("../features/kit/ThingPage"), ThePage);
const RecordsPage = part(() => import("../features/records/RecordsPage"), ThePage);
const KitPage = part(() => import("../features/kit/KitPage"), ThePage);
const SitePage = part(() => import("../features/site/SitePage"), ThePage);
const SetupPage = part(() => import("../features/instruments/setup/SetupPage"), ThePage);
const StartPage = part(() => import("../features/site/StartPage"), ThePage);
const WelcomePage = part(() => import("../features/site/WelcomePage"), ThePage);
const NothingHere = part(() => import("./NothingHere"), ThePage);

/** The dialog of a session that is over comes with the first answer that says so. */
function WhenOver({ user }: { user: Me }) {
  const [heard, setHeard] = useState(false);
  useEffect(() => {
    const listen = () => setHeard(true);
    window.addEventListener(SIGNED_OUT, listen, { once: true });
    return () => window.removeEventListener(SIGNED_OUT, listen);
  }, []);
  return heard && <SignInAgain user={user} />;
}

/** Sign-in first; then the places. */
export function App() {
  const session = useQuery(sessionQuery);
  if (session.isPending) return <Loading what="Verify Loop" />;
  // A page that is open stays open when the server is away for a moment: what is typed stays.
  const lost = !session.data && session.error;
  if (lost instanceof ApiError && lost.unreachable)
    return <NoServer onRetry={() => void session.refetch()} />;
  if (lost || !session.data)
    return (
      <div className="mx-auto max-w-lg p-8">
        <ErrorBox error={session.error} onRetry={() => void session.refetch()} />
      </div>
    );
  const invited = /^welcome\/([\w-]+)$/.exec(window.location.pathname.slice(BASE.length));
  if (invited?.[1] || session.data.empty)
    return invited?.[1] ? <WelcomePage token={invited[1]} /> : <StartPage />;
  if (!session.data.user) return <SignInPage />;
  asPerson(session.data.user.username);
  return (
    <BrowserRouter basename={BASE.replace(/\/$/, "")}>
      <WhenOver user={session.data.user} />
      <Routes>
        <Route element={<Shell user={session.data.user} />}>
          <Route index element={<TodayPage user={session.data.user} />} />
          <Route path="jobs/:number" element={<JobPage user={session.data.user} />} />
          <Route path="instruments" element={<InstrumentsPage user={session.data.user} />} />
          <Route path="methods" element={<MethodsPage user={session.data.user} />} />
          <Route path="instruments/new" element={<SetupPage />} />
          <Route path="instruments/:tag/record" element={<SetupPage />} />
          <Route path="instruments/:tag" element={<InstrumentPage user={session.data.user} />} />
          <Route path="bench" element={<BenchPage />} />
          <Route path="bench/tables" element={<TablesPage />} />
          <Route path="bench/:name" element={<BenchPage />} />
          <Route path="kit" element={<KitPage user={session.data.user} />} />
          <Route path="kit/new" element={<ThingPage user={session.data.user} />} />
          <Route path="kit/:asset" element={<ThingPage user={session.data.user} />} />
          <Route path="records" element={<RecordsPage />} />
          <Route path="site" element={<SitePage user={session.data.user} />} />
          <Route path="*" element={<NothingHere />} />
        </Route>
      </Routes>
    </BrowserRouter>
  );
}
