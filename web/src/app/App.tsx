import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { BrowserRouter, Route, Routes } from "react-router";
import { ApiError } from "../api/client";
import { BASE } from "../api/release";
import { sessionQuery } from "../api/session";
import NoServer from "./NoServer";
import TodayPage from "../features/today/TodayPage";
import { asPerson } from "../ui/person";
import { ErrorBox, Loading } from "../ui/states";
import { Shell } from "./Shell";

const SignInPage = lazy(() => import("../features/session/SignInPage"));
const SignInAgain = lazy(() => import("./SignInAgain"));
const JobPage = lazy(() => import("../features/job/JobPage"));
const InstrumentsPage = lazy(() => import("../features/instruments/InstrumentsPage"));
const InstrumentPage = lazy(() => import("../features/instruments/InstrumentPage"));
const MethodsPage = lazy(() => import("../features/methods/MethodsPage"));
const BenchPage = lazy(() => import("../features/bench/BenchPage"));
const TablesPage = lazy(() => import("../features/bench/TablesPage"));
const ThingPage = lazy(() => import("../features/kit/ThingPage"));
const RecordsPage = lazy(() => import("../features/records/RecordsPage"));
const KitPage = lazy(() => import("../features/kit/KitPage"));
const SitePage = lazy(() => import("../features/site/SitePage"));
const SetupPage = lazy(() => import("../features/instruments/setup/SetupPage"));
const StartPage = lazy(() => import("../features/site/StartPage"));
const WelcomePage = lazy(() => import("../features/site/WelcomePage"));
const NothingHere = lazy(() => import("./NothingHere"));

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
    return (
      <Suspense fallback={<Loading what="the page" />}>
        {invited?.[1] ? <WelcomePage token={invited[1]} /> : <StartPage />}
      </Suspense>
    );
  if (!session.data.user)
    return (
      <Suspense fallback={<Loading what="the page" />}>
        <SignInPage />
      </Suspense>
    );
  asPerson(session.data.user.username);
  return (
    <BrowserRouter basename={BASE.replace(/\/$/, "")}>
      <Suspense>
        <SignInAgain user={session.data.user} />
      </Suspense>
      <Suspense fallback={<Loading what="the page" />}>
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
      </Suspense>
    </BrowserRouter>
  );
}
