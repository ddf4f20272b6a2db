import { useQuery } from "@tanstack/react-query";
import { createContext, useContext, useState } from "react";
import { Modal } from "../../ui/Modal";
import { ErrorBox, Loading } from "../../ui/states";
import { jobQueries } from "./api";

const Open = createContext<(figure: string) => void>(() => undefined);

/** Lets every figure inside open to its formula, numbers, limit and source. */
export function Explainable({
  number,
  seq,
  children,
}: {
  number: string;
  seq: number;
  children: React.ReactNode;
}) {
  const [figure, setFigure] = useState("");
  return (
    <Open.Provider value={setFigure}>
      {children}
      <Modal open={figure !== ""} onClose={() => setFigure("")} title="How was this computed?">
        {figure && <Opened number={number} seq={seq} figure={figure} />}
      </Modal>
    </Open.Provider>
  );
}

/** A figure that can be opened. */
export function Figure({
  name,
  children,
  className = "",
}: {
  name: string;
  children: React.ReactNode;
  className?: string;
}) {
  const open = useContext(Open);
  return (
    <button
      type="button"
      title="How was this computed?"
      onClick={() => open(name)}
      className={`cursor-help rounded text-inherit pointer-coarse:min-h-11 pointer-coarse:min-w-11 decoration-dotted underline-offset-4 hover:underline ${className}`}
    >
      {children}
    </button>
  );
}

function Opened({ number, seq, figure }: { number: string; seq: number; figure: string }) {
  const said = useQuery(jobQueries.explain(number, seq, figure));
  if (said.isPending) return <Loading what="the computation" />;
  if (said.isError) return <ErrorBox error={said.error} onRetry={() => void said.refetch()} />;
  const e = said.data;
  const rows = [
    ["Formula", e.formula],
    ["Worked", e.worked],
    ["Limit", e.limit],
    ["Source", e.source],
  ].filter(([, text]) => text);
  return (
    <div>
      <p className="text-[15px] text-muted">{e.title}</p>
      <p className="digits mb-3 text-2xl">{e.result}</p>
      <dl className="grid grid-cols-[80px_1fr] gap-y-2 text-[15px]">
        {rows.map(([name, text]) => (
          <div key={name} className="contents">
            <dt className="text-muted">{name}</dt>
            <dd className={name === "Source" || name === "Limit" ? "" : "digits"}>{text}</dd>
          </div>
        ))}
      </dl>
      {e.inputs.length > 0 && (
        <table className="mt-4 w-full text-[15px]">
          <tbody>
            {e.inputs.map((given) => (
              <tr key={given.name} className="border-t border-line">
                <th scope="row" className="py-1 text-left font-normal text-muted">
                  {given.name}
                </th>
                <td className="digits py-1 text-right">{given.value}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
