import { MagnifyingGlassIcon } from "@heroicons/react/24/outline";
import { useEffect, useRef } from "react";

type Props = {
  label: string;
  value: string;
  onChange: (value: string) => void;
  focus?: boolean;
};

/** A search field; the slash key goes to it. */
export function SearchBox({ label, value, onChange, focus = true }: Props) {
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const busy = event.target instanceof HTMLElement && event.target.matches("input, textarea");
      if (event.key !== "/" || busy) return;
      event.preventDefault();
      input.current?.focus();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return (
    <div className="flex min-h-11 w-full max-w-md items-center gap-2 rounded-xl border border-line bg-card px-3">
      <MagnifyingGlassIcon className="size-5 text-muted" aria-hidden="true" />
      <input
        ref={input}
        type="search"
        autoFocus={focus}
        aria-label={label}
        placeholder={label}
        className="min-h-11 w-full bg-transparent py-2 outline-none placeholder:text-muted"
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </div>
  );
}
