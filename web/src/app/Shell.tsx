import {
  BeakerIcon,
  BuildingOffice2Icon,
  CalculatorIcon,
  DocumentTextIcon,
  MagnifyingGlassIcon,
  QueueListIcon,
} from "@heroicons/react/24/outline";
import { useEffect, useState } from "react";
import { NavLink, Outlet, useLocation, useNavigate } from "react-router";
import type { Me } from "../api/session";
import { part } from "../ui/part";
import { Caught } from "./Caught";
import { Renewed } from "./Renewed";
import { SafetyStrip } from "./SafetyStrip";
import { SignOutButton } from "./SignOut";

// Dialogs come with what draws them, once the first one is opened.
const FindDialog = part(() => import("./FindDialog"));
const KeysDialog = part(() => import("./KeysDialog"));
const Told = part(() => import("./Told"));

const PLACES = [
  { to: "/", label: "Today", key: "t", Icon: QueueListIcon },
  { to: "/instruments", label: "Instruments", key: "i", Icon: MagnifyingGlassIcon },
  { to: "/kit", label: "Kit", key: "k", Icon: BeakerIcon },
  { to: "/bench", label: "Bench", key: "b", Icon: CalculatorIcon },
  { to: "/records", label: "Records", key: "r", Icon: DocumentTextIcon },
  { to: "/site", label: "Site", key: "s", Icon: BuildingOffice2Icon },
] as const;

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.matches("input, textarea, select, [role=dialog] *");

/** There is something to know before anything else. */
const isTold = (user: Me) =>
  user.bare || user.told.length + user.set_back.length + user.restores.length > 0;

/** The frame of every page: places, the page, the safety strip. */
export function Shell({ user }: { user: Me }) {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [keys, setKeys] = useState(false);
  const [finding, setFinding] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (typing(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === "?") setKeys(true);
      if (event.key === "f") {
        event.preventDefault();
        setFinding(true);
      }
      const place = PLACES.find((p) => p.key === event.key);
      if (!place) return;
      event.preventDefault();
      void navigate(place.to);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [navigate]);
  return (
    <div className="relative grid h-full overflow-hidden print:block print:h-auto print:overflow-visible grid-cols-1 grid-rows-[auto_1fr_auto] md:grid-cols-[84px_1fr] md:grid-rows-[1fr_auto]">
      <Places user={user} />
      <div className="relative min-h-0 overflow-auto print:overflow-visible">
        <Renewed />
        {isTold(user) && <Told user={user} />}
        <Caught at={pathname}>
          <Outlet />
        </Caught>
      </div>
      <SafetyStrip onFind={() => setFinding(true)} onKeys={() => setKeys(true)} />
      {finding && <FindDialog onClose={() => setFinding(false)} />}
      {keys && <KeysDialog open onClose={() => setKeys(false)} />}
    </div>
  );
}

function Places({ user }: { user: Me }) {
  return (
    <nav
      aria-label="Places"
      className="flex flex-wrap items-center bg-rail px-1 py-1 text-rail-ink md:flex-col md:flex-nowrap md:px-1 md:py-3"
    >
      <svg
        viewBox="0 0 40 40"
        className="hidden size-10 shrink-0 md:mb-3 md:block"
        aria-hidden="true"
      >
        <path
          d="M4 24h7l5-14 6 20 5-11h9"
          fill="none"
          stroke="#c9b8ff"
          strokeWidth="3.6"
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      </svg>
      {PLACES.map(({ to, label, Icon }) => (
        <NavLink
          key={to}
          to={to}
          end={to === "/"}
          className={({ isActive }) =>
            `flex min-h-11 min-w-11 flex-col items-center gap-0.5 rounded-[10px] py-2 text-[10.5px] md:w-[76px] md:px-2 md:text-[13px] ${isActive ? "bg-white/15 text-white" : "hover:bg-white/10"}`
          }
        >
          <Icon className="size-6" aria-hidden="true" />
          {label}
        </NavLink>
      ))}
      <div className="ml-auto flex items-center md:gap-1 md:mt-auto md:ml-0 md:flex-col">
        <ThemeButton />
        <SignOutButton name={user.name} role={user.role} />
      </div>
    </nav>
  );
}

function ThemeButton() {
  const [dark, setDark] = useState(document.documentElement.dataset.theme === "dark");
  const flip = () => {
    const theme = dark ? "light" : "dark";
    document.documentElement.dataset.theme = theme;
    localStorage.setItem("theme", theme);
    setDark(!dark);
  };
  const label = dark ? "Daylight" : "Night";
  return (
    <button
      type="button"
      onClick={flip}
      className="flex min-h-11 min-w-11 flex-col items-center justify-center rounded-[10px] py-1.5 text-[13px] hover:bg-white/10 md:px-2"
    >
      <svg viewBox="0 0 20 20" className="size-5" fill="currentColor" aria-hidden="true">
        <path d="M10 2a8 8 0 1 0 0 16A8 8 0 0 0 10 2m0 2v12a6 6 0 0 1 0-12" />
      </svg>
      <span className="max-md:sr-only">{label}</span>
    </button>
  );
}
