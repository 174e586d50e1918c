/**
 * Starts Python as the browser will, loads the core into it, asks it what a visit asks, and keeps its memory as it is then: a
 * device begins there, and has neither to start Python nor to load the core.
 *
 * node snapshot.mjs      from .core/core.zip and .core/questions.json, writes .core/core.bin.gz
 */
import { readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { gzipSync } from "node:zlib";
import { loadPyodide } from "pyodide";
import { BYTES } from "./memory.mjs";

const made = fileURLToPath(new URL(".core/", import.meta.url));
const python = fileURLToPath(new URL("node_modules/pyodide/", import.meta.url));

// Without docstrings and assertions: what was written for the reader would fill its memory.
const interpreter = await loadPyodide({ indexURL: python, _makeSnapshot: true, args: ["-OO"] });
const archive = new Uint8Array(readFileSync(`${made}core.zip`)).buffer;
interpreter.unpackArchive(archive, "zip", { extractDir: "/core" });
// Nor what keeps a programmer from writing into a record, nor its words for a debugger: each class would bring four functions.
interpreter.runPython(`
import dataclasses, sys
whole = dataclasses.dataclass
def plain(cls=None, /, *, frozen=False, eq=True, **more):
    return whole(cls, **{**more, "repr": False, "eq": eq, "unsafe_hash": frozen and eq})
dataclasses.dataclass = plain
sys.path.insert(0, "/core")
from fentro_core import device
dataclasses.dataclass = whole
`);
const answer = interpreter.runPython("device.answer");
for (const question of JSON.parse(readFileSync(`${made}questions.json`, "utf8"))) {
  const found = JSON.parse(answer(JSON.stringify(question)));
  if (!("answer" in found)) throw new Error(`${question.ask}: ${JSON.stringify(found)}`);
  // What one question left would stand in the way of the next: memory only grows. Nor is the text of made functions needed.
  interpreter.runPython("import gc, linecache; device.forget(); linecache.clearcache(); gc.collect()");
}
answer.destroy();
// What is there now stays: without this the collector walks it all again every few readings, and one of them waits for it.
interpreter.runPython("gc.freeze(); gc.set_threshold(50_000, 20, 50)");
const memory = interpreter.makeMemorySnapshot();
// Python begins with this much on a device (memory.mjs), and can't take back more.
if (memory.length > BYTES + 4096)
  throw new Error(`The core's memory has grown to ${memory.length} bytes: ask less before it is kept, or begin with more.`);
writeFileSync(`${made}core.bin.gz`, gzipSync(memory, { level: 9 }));
