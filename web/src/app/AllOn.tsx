import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { Link } from "react-router";
import { ALL, counted, shown, type On } from "./on";

/** Everything that is on, line by line, above the strip. */
export default function AllOn({ groups, now }: { groups: On[][]; now: number }) {
  return (
    <Popover className="shrink-0">
      <PopoverButton className={ALL}>{counted(groups.length)}</PopoverButton>
      <PopoverPanel
        anchor={{ to: "top start", gap: 8 }}
        className="z-20 max-h-[70vh] w-[min(560px,94vw)] overflow-auto rounded-2xl border border-line bg-card p-2 text-ink shadow-xl"
      >
        {({ close }) => (
          <ul>
            {groups.flat().map((item) => (
              <li key={`${item.job}${item.label}${item.kind}`}>
                <Link
                  to={`/jobs/${item.job}`}
                  onClick={() => close()}
                  className="flex min-h-11 items-center gap-3 rounded-lg px-3 py-1.5 hover:bg-sunk"
                >
                  <strong className="shrink-0">{item.tag}</strong>
                  <span className="min-w-0 flex-1">{item.label}</span>
                  <span className={`digits ${item.urgent ? "font-bold text-outside" : ""}`}>
                    {shown(item, now)}
                    {item.urgent && ` over ${item.limit_minutes} min`}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        )}
      </PopoverPanel>
    </Popover>
  );
}
