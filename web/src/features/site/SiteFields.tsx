import { useQuery } from "@tanstack/react-query";
import { Field } from "../../ui/Field";
import { Pick } from "../../ui/Pick";
import { wrongAt } from "../../ui/wrong";
import { choicesQuery, type SiteGiven } from "./api";

export const EMPTY_SITE: SiteGiven = {
  name: "",
  laboratory: "",
  address: "",
  customer: "",
  work_orders: "",
  time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  decimal_sign: ".",
  units: {},
};

export const SITE_FIELDS = [
  "name",
  "laboratory",
  "address",
  "work_orders",
  "time_zone",
  "decimal_sign",
];

type Props = {
  site: SiteGiven;
  error: Error | null;
  onChange: (site: SiteGiven) => void;
  readOnly?: boolean;
  /** with what nobody needs on the first day */
  whole?: boolean;
};

/** What is said of the site: it stands on every certificate, and says how numbers are written. */
export function SiteFields({ site, error, onChange, readOnly = false, whole = false }: Props) {
  const choices = useQuery(choicesQuery);
  const set = (more: Partial<SiteGiven>) => onChange({ ...site, ...more });
  const zones = choices.data?.zones ?? [];
  const zone = site.time_zone ?? "UTC";
  return (
    <div className="grid gap-x-5 gap-y-3 sm:grid-cols-2">
      <Field
        label="Name of the site"
        value={site.name}
        readOnly={readOnly}
        problem={wrongAt(error, "name")}
        onChange={(e) => set({ name: e.target.value })}
      />
      <Field
        label="Laboratory that issues the papers"
        value={site.laboratory ?? ""}
        readOnly={readOnly}
        problem={wrongAt(error, "laboratory")}
        onChange={(e) => set({ laboratory: e.target.value })}
      />
      <Field
        className="sm:col-span-2"
        label="Address"
        value={site.address ?? ""}
        readOnly={readOnly}
        problem={wrongAt(error, "address")}
        onChange={(e) => set({ address: e.target.value })}
      />
      {whole && (
        <Field
          className="sm:col-span-2"
          label="Address of a work order in your own system, with {number} where its number goes"
          value={site.work_orders ?? ""}
          readOnly={readOnly}
          problem={wrongAt(error, "work_orders")}
          onChange={(e) => set({ work_orders: e.target.value })}
        />
      )}
      <Pick
        label="Time zone of the site"
        value={zone}
        disabled={readOnly}
        choices={zones.includes(zone) ? zones : [zone, ...zones]}
        problem={wrongAt(error, "time_zone")}
        onChange={(e) => set({ time_zone: e.target.value })}
      />
      <Pick
        label="Decimal sign in lists"
        value={site.decimal_sign ?? "."}
        disabled={readOnly}
        choices={[
          { value: ".", label: "point: 12.5" },
          { value: ",", label: "comma: 12,5" },
        ]}
        problem={wrongAt(error, "decimal_sign")}
        onChange={(e) => set({ decimal_sign: e.target.value })}
      />
      {choices.data?.units.map((u) => (
        <Pick
          key={u.quantity}
          label={`Unit of ${u.quantity} that a new instrument begins with`}
          value={site.units?.[u.quantity] ?? u.usual}
          disabled={readOnly}
          choices={u.units}
          problem={wrongAt(error, `units.${u.quantity}`)}
          onChange={(e) => set({ units: { ...site.units, [u.quantity]: e.target.value } })}
        />
      ))}
    </div>
  );
}
