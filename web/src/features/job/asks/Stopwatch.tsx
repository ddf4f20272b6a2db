import { useEffect, useState } from "react";
import { Button } from "../../../ui/Button";

/** When the last mark passed, by place: a stopwatch goes on from one turn to the next. */
const started = new Map<string, number>();

/** Times a turn from mark to mark: one tap starts it, the next one takes the time and goes on. */
export function Stopwatch({ place, onTap }: { place: string; onTap: (seconds: string) => void }) {
  const [since, setSince] = useState(started.get(place));
  const [now, setNow] = useState(() => performance.now());
  useEffect(() => {
    if (since === undefined) return;
    const timer = setInterval(() => setNow(performance.now()), 200);
    return () => clearInterval(timer);
  }, [since]);
  const tap = () => {
    const at = performance.now();
    if (since !== undefined) onTap(((at - since) / 1000).toFixed(1));
    started.set(place, at);
    setSince(at);
    setNow(at);
  };
  return (
    <Button className="col-span-2 text-[15px]" onClick={tap}>
      {since === undefined ? (
        "Start at the mark"
      ) : (
        <>
          Mark again: <span className="digits">{((now - since) / 1000).toFixed(1)} s</span>
        </>
      )}
    </Button>
  );
}
