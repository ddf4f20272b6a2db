// The core in the browser's own Python: ask with {id, name, payload}, get {id, said} or {id, error}.
// A worker of its own: the page stays quick, and the page's content policy stays as strict as it is.
import { loadPyodide } from "./pyodide.mjs";

const ASK = `
import json
from decimal import Decimal
from calibration.kernel.errors import InputError
from calibration.operations import run

def ask(name, text):
    try:
        return json.dumps({"said": run(name, json.loads(text, parse_float=Decimal))})
    except InputError as refusal:
        return json.dumps({"error": refusal.as_dict()})
ask
`;

async function start() {
  const python = await loadPyodide({ indexURL: new URL(".", import.meta.url).pathname });
  const core = await fetch(new URL("core.zip", import.meta.url));
  python.unpackArchive(await core.arrayBuffer(), "zip");
  return { python, ask: python.runPython(ASK) };
}

/** Whether these are still the rules that are served; without a network they are those at hand. */
async function served() {
  try {
    const answer = await fetch(new URL("../where.json", import.meta.url), { cache: "no-store" });
    if (!answer.ok) return true;
    const { folder } = await answer.json();
    return new URL(".", import.meta.url).pathname.endsWith(`/${folder}/`);
  } catch {
    return true;
  }
}

const OLD = { code: "release.old", message: "Other rules are served now.", remedy: "Reload." };
const ready = start();

onmessage = async ({ data }) => {
  try {
    const { python, ask } = await ready;
    if (!(await served())) return postMessage({ id: data.id, error: OLD });
    // A script is for measuring and testing the same interpreter; it answers with text.
    const text = data.script
      ? JSON.stringify({ said: python.runPython(data.script) })
      : ask(data.name, JSON.stringify(data.payload));
    postMessage({ id: data.id, ...JSON.parse(text) });
  } catch (failure) {
    postMessage({ id: data.id, error: { code: "python.failed", message: String(failure) } });
  }
};
