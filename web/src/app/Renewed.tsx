import { useEffect, useRef } from "react";
import { useLocation } from "react-router";
import { useRenewed } from "../api/release";
import { Button } from "../ui/Button";

/** Says that a newer release is served; the next place that is opened comes from it. */
export function Renewed() {
  const renewed = useRenewed();
  const { pathname } = useLocation();
  const noticed = useRef<string>(null);
  useEffect(() => {
    if (!renewed) return;
    noticed.current ??= pathname;
    if (pathname !== noticed.current) window.location.reload();
  }, [renewed, pathname]);
  if (!renewed) return null;
  return (
    <div
      role="status"
      className="col-span-full flex flex-wrap items-center gap-3 border-b border-line bg-card px-4 py-2 print:hidden"
    >
      <span>
        A newer release of Verify Loop is served. The next place that you open comes from it; what
        you entered in a job is kept.
      </span>
      <Button onClick={() => window.location.reload()}>Load it now</Button>
    </div>
  );
}
