/** The core itself, Python compiled to WebAssembly, in a thread of its own: asked and answering in JSON, as the server would. */

interface Python {
  runPython: (code: string) => Core;
}

interface Core {
  answer: (question: string) => string;
}

export interface Files {
  /** Where CPython's own files are, with a slash at the end. */
  python: string;
  /** Its memory with the core loaded, compressed: it begins there. */
  memory: string;
}

export type ToWorker = { files: Files } | { number: number; question: string };
export type FromWorker =
  | { ready: true }
  | { failed: string }
  | { number: number; answer: string }
  | { number: number; failed: string };

declare const self: DedicatedWorkerGlobalScope;

let core: Core | undefined;

interface Loader {
  loadPyodide: (options: { indexURL: string; _loadSnapshot: Promise<ArrayBuffer> }) => Promise<Python>;
}

async function unpacked(url: string): Promise<ArrayBuffer> {
  const answer = await fetch(url);
  if (!answer.ok || !answer.body) throw new Error(`the core's memory: ${answer.status}`);
  return new Response(answer.body.pipeThrough(new DecompressionStream("gzip"))).arrayBuffer();
}

async function load({ python, memory }: Files): Promise<void> {
  const kept = unpacked(memory);
  const { loadPyodide } = (await import(/* @vite-ignore */ `${python}pyodide.mjs`)) as Loader;
  const interpreter = await loadPyodide({ indexURL: python, _loadSnapshot: kept });
  core = interpreter.runPython("from fentro_core import device; device");
}

const tell = (message: FromWorker): void => self.postMessage(message);
const why = (error: unknown): string => (error instanceof Error ? error.message : String(error));

self.addEventListener("message", async ({ data }: MessageEvent<ToWorker>) => {
  if ("files" in data) {
    try {
      await load(data.files);
      tell({ ready: true });
    } catch (error) {
      tell({ failed: why(error) });
    }
    return;
  }
  try {
    if (!core) throw new Error("not loaded");
    tell({ number: data.number, answer: core.answer(data.question) });
  } catch (error) {
    tell({ number: data.number, failed: why(error) });
  }
});
