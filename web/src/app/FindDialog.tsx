import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { client, unwrap } from "../api/client";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";
import { part } from "../ui/part";
import { useLater } from "../ui/useLater";

const Scanner = part(() => import("./Scanner"));
const camera = () => Boolean(navigator.mediaDevices?.getUserMedia);

/** Anything from anywhere, by words or by the code of a label. */
export default function FindDialog({ onClose }: { onClose: () => void }) {
  const [words, setWords] = useState("");
  const [scanning, setScanning] = useState(false);
  const q = useLater(words.trim(), 150);
  const navigate = useNavigate();
  const found = useQuery({
    queryKey: ["find", q] as const,
    queryFn: ({ signal }) =>
      unwrap(client.GET("/api/v1/find", { params: { query: { q } }, signal })),
    placeholderData: keepPreviousData,
    enabled: q !== "",
  });
  const go = (to: string | null) => {
    if (!to) return;
    onClose();
    void navigate(to);
  };
  const sorts = q ? (found.data?.sorts ?? []) : [];
  return (
    <Modal open onClose={onClose} title="Find">
      {scanning ? (
        <Scanner onFound={go} onClose={() => setScanning(false)} />
      ) : (
        <Combobox onChange={go}>
          <div className="flex gap-2">
            <ComboboxInput
              autoFocus
              autoComplete="off"
              aria-label="Tag, job, kit, method or calculator"
              placeholder="Tag, job, kit, method or calculator"
              className="min-h-11 w-full rounded-[10px] border border-line bg-card px-3"
              onChange={(e) => setWords(e.target.value)}
            />
            {camera() && (
              <Button className="shrink-0 whitespace-nowrap" onClick={() => setScanning(true)}>
                Scan a label
              </Button>
            )}
          </div>
          {sorts.length > 0 && (
            <ComboboxOptions static className="mt-3 max-h-[60vh] overflow-auto">
              {sorts.map((sort) => (
                <div key={sort.title} role="group" aria-label={sort.title}>
                  <div aria-hidden className="px-3 pt-2 text-[14px] text-muted">
                    {sort.title}
                  </div>
                  {sort.hits.map((hit) => (
                    <ComboboxOption
                      key={hit.to}
                      value={hit.to}
                      className="flex min-h-11 cursor-pointer items-center gap-3 rounded-lg px-3 py-1.5 data-focus:bg-accent-soft"
                    >
                      <strong className="shrink-0">{hit.name}</strong>
                      <span className="min-w-0 truncate text-[14.5px] text-muted">{hit.words}</span>
                    </ComboboxOption>
                  ))}
                </div>
              ))}
            </ComboboxOptions>
          )}
          {q && found.data && sorts.length === 0 && (
            <p role="status" className="mt-3 text-muted">
              Nothing fits. Try fewer letters.
            </p>
          )}
          {found.isError && (
            <p role="alert" className="mt-3 text-outside">
              The server does not answer. Try again.
            </p>
          )}
        </Combobox>
      )}
    </Modal>
  );
}
