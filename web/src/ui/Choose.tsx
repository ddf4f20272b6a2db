type Props = {
  label: string;
  value: string;
  choices: readonly (string | { value: string; label: string })[];
  onChange: (value: string) => void;
};

/** A filter of a list: its label says that everything is shown. */
export function Choose({ label, value, choices, onChange }: Props) {
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      className="min-h-11 min-w-0 flex-1 basis-[40%] rounded-xl border border-line bg-card px-3 sm:flex-none sm:basis-auto"
    >
      <option value="">{label}</option>
      {choices.map((c) => {
        const { value: id, label: words } = typeof c === "string" ? { value: c, label: c } : c;
        return (
          <option key={id} value={id}>
            {words}
          </option>
        );
      })}
    </select>
  );
}
