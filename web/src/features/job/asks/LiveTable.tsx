import type { Schemas } from "../../../api/client";

/** Values that are read at once, each as the display shows it, and whether it stands still. */
export function LiveTable({ shown, lost }: { shown: Schemas["OnDisplay"][]; lost: boolean }) {
  const many = shown.length > 6;
  return (
    <table className="w-full rounded-xl bg-live text-live-ink" aria-label="On the display">
      <tbody>
        {shown.map((s) => (
          <tr key={s.id}>
            <th
              scope="row"
              className={`px-3.5 py-1 text-left font-normal ${many ? "text-[13.5px] leading-tight" : "text-[14.5px]"}`}
            >
              {s.label}
            </th>
            <td
              className={`digits py-1 text-right leading-tight font-semibold ${many ? "text-[17px]" : "text-[24px]"}`}
            >
              {s.value || "–"}
            </td>
            <td className="py-1 pl-1.5 text-[14px] text-live-muted">{s.unit}</td>
            <td className="px-3.5 py-1 text-right text-[14px] text-live-muted">
              {s.steady ? "steady" : s.value ? "moves" : "waits"}
            </td>
          </tr>
        ))}
      </tbody>
      {lost && (
        <caption className="caption-bottom text-[14px] text-muted">
          Connection lost: shown as last known.
        </caption>
      )}
    </table>
  );
}
