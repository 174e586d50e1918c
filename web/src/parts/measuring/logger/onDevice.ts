/** A logger's file looked at, checked and kept on this device, where the server does not answer. */
import { loggedQuery, queries } from "../../../api/queries";
import { core } from "../../../core/core";
import type { Question } from "../../../logbook/question";
import { queue } from "../../../queue/useQueue";
import type { Done, Look, Mapping } from "./file";

const HEAD_BYTES = 64 * 1024;
/** Longer files wait for the server: a phone reads this in a few seconds. */
export const MOST_BYTES = 8 * 1024 * 1024;

/** A file's text, whatever it was written in, as the core decides it, too. */
export function decoded(bytes: Uint8Array): string {
  const [first, second] = bytes;
  if (first === 0xff && second === 0xfe) return new TextDecoder("utf-16le").decode(bytes);
  if (first === 0xfe && second === 0xff) return new TextDecoder("utf-16be").decode(bytes);
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}

const textOf = async (file: File): Promise<string> => decoded(new Uint8Array(await file.arrayBuffer()));

/** The file's layout by the core on this device. */
export async function lookHere(file: File): Promise<Look> {
  const layout = await core.ask<Look["layout"]>("logger_look", {
    text: (await textOf(file)).slice(0, HEAD_BYTES),
  });
  return { layout, mapping: null, size: file.size };
}

/** The file read through here. To bring it in, it waits on this device; its course is at its stations at once. */
export async function readHere(
  visit: string,
  question: Question,
  file: File,
  mapping: Mapping,
  offset: number,
  mode: "check" | "all" | "good",
): Promise<Done> {
  const text = await textOf(file);
  const found = await core.ask<{ told: Done; courses: number[][][] }>("logger_file", {
    ...question,
    text,
    mapping,
    utc_offset_min: offset,
    mode,
  });
  if (mode === "check") return found.told;
  const body = {
    visit,
    name: file.name,
    text,
    mapping: JSON.stringify(mapping),
    utc_offset_min: offset,
    mode,
  };
  await queue.make({
    id: crypto.randomUUID(),
    what: "logger_file",
    body,
    words: `Logger file ${file.name}`,
  });
  const fresh = mapping.columns.flatMap((column, index) => {
    const course = found.courses[index] ?? [];
    const [first, last] = [course[0]?.[0], course.at(-1)?.[0]];
    if (first === undefined || last === undefined) return [];
    const series = {
      // Below zero: the server does not have it yet.
      id: -Date.now() - index,
      station: column.station,
      point: column.point ?? 1,
      quantity: column.quantity,
      instrument: "",
      instrument_id: column.instrument ?? null,
      origin: "file",
      count: found.told.rows,
      first: new Date(first * 1000).toISOString(),
      last: new Date(last * 1000).toISOString(),
      course,
    };
    return [series];
  });
  queries.setQueryData(loggedQuery(visit).queryKey, (known) => [...(known ?? []), ...fresh]);
  return { ...found.told, waits: true };
}
