/** The visit as it is judged now: by the core on this device as soon as something was taken, and by the server when it has it. */
import { useEffect, useMemo, useRef, useState } from "react";
import { queries, visitKey } from "../api/queries";
import { core, useCore } from "../core/core";
import type { Logged, Page } from "../logbook/logbook";
import { type Question, sameSaid } from "../logbook/question";
import { carried } from "../logbook/weighed";

interface Judged {
  visit: string;
  known: Set<string>;
  work_up: Page["work_up"];
  left_out: Page["left_out"];
}

/** Visits that this device has worked out once since it was opened. */
const warmed = new Set<string>();
const WARM_AFTER_MS = 500;
/** So long nothing is asked before causes are weighed. */
const WEIGH_AFTER_MS = 1000;
/** Without a core on this device the server is asked, which weighs them with every page. */
const UNREADY_MS = 1500;

const BY = 0.01;
const TIMES = 4;

/** Every reading as if it had been so much higher. */
const alike =
  (by: number) =>
  (entry: Logged): Logged =>
    entry.kind === "reading"
      ? { ...entry, id: crypto.randomUUID(), body: { ...entry.body, value: entry.body.value + by } }
      : entry;

/** Worked out before anything is read, while the device has nothing else to do: the first reading is then judged at once. */
function useWarm(question: Question, visit: string, ready: boolean): void {
  const newest = useRef(question);
  newest.current = question;
  useEffect(() => {
    if (!ready || warmed.has(visit)) return;
    const later = setTimeout(async () => {
      warmed.add(visit);
      const { entries, ...rest } = newest.current;
      // Each time it differs in its readings, as it will: the same question would be answered from memory. It takes a few times
      // until the browser has turned what runs often into fast code.
      for (let time = 0; time < TIMES; time += 1) {
        const known = time ? entries.map(alike(time * BY)) : entries;
        await core.ask("visit", { ...rest, entries: known, weigh: false }).catch(() => undefined);
      }
    }, WARM_AFTER_MS);
    return () => clearTimeout(later);
  }, [visit, ready]);
}

/** The page with the newest judgement there is: never one that leaves out what this device already counted. */
export function useJudged(page: Page, question: Question): Page {
  const state = useCore();
  const [judged, setJudged] = useState<Judged | undefined>();
  const visit = String(page.id);
  const waiting = question.entries.some((entry) => entry.waiting);
  useWarm(question, visit, state === "ready" && page.may_write);
  useEffect(() => {
    if (page.core) void core.follow(page.core);
  }, [page.core]);
  const wanted = useRef<{ question: Question; visit: string; known: Set<string> } | undefined>(undefined);
  const busy = useRef(false);
  const shown = useRef(page);
  const asked = useRef<Question | undefined>(undefined);
  useEffect(() => {
    if (!waiting) {
      asked.current = wanted.current = undefined;
      return;
    }
    // That an entry was kept, or is on its way, changes nothing of what it says.
    if (state !== "ready" || (asked.current && sameSaid(asked.current, question))) return;
    asked.current = question;
    wanted.current = { question, visit, known: new Set(question.entries.map((entry) => entry.id)) };
    if (busy.current) return;
    busy.current = true;
    // One question at a time, and always the newest: whoever types fast is not held up by what he typed before.
    const askOn = async (): Promise<void> => {
      const now = wanted.current;
      if (!now) return;
      wanted.current = undefined;
      const { known } = now;
      // Without an answer from here the server's comes, as it did before.
      const found = await core
        .ask<Pick<Judged, "work_up" | "left_out">>("visit", { ...now.question, weigh: false })
        .catch(() => undefined);
      if (found) {
        const work_up = carried(found.work_up, shown.current.work_up);
        setJudged({ work_up, left_out: found.left_out, visit: now.visit, known });
      }
      await askOn();
    };
    void askOn().finally(() => {
      busy.current = false;
    });
  }, [question, waiting, state, visit]);
  const newest = useMemo(() => {
    const more =
      judged?.visit === visit &&
      (waiting || page.work_up.weighed === false) &&
      !page.entries.some((entry) => !judged.known.has(entry.id));
    return more ? { ...page, work_up: judged.work_up, left_out: judged.left_out } : page;
  }, [page, judged, visit, waiting]);
  shown.current = newest;
  useWeighed(question, newest, state === "ready", (found, known) => setJudged({ ...found, visit, known }));
  return newest;
}

/** Which cause it is, once nobody has read anything for a moment. */
function useWeighed(
  question: Question,
  page: Page,
  ready: boolean,
  take: (found: Pick<Judged, "work_up" | "left_out">, known: Set<string>) => void,
): void {
  const taking = useRef(take);
  taking.current = take;
  const due = page.work_up.weighed === false;
  const visit = String(page.id);
  useEffect(() => {
    if (!due) return;
    if (!ready) {
      const later = setTimeout(
        () => void queries.invalidateQueries({ queryKey: visitKey(visit) }),
        UNREADY_MS,
      );
      return () => clearTimeout(later);
    }
    let stale = false;
    let later: ReturnType<typeof setTimeout>;
    const weigh = async () => {
      // Whoever types is not held up by it: every digit asks the core what follows from it.
      const left = WEIGH_AFTER_MS - core.quietFor();
      if (left > 0) {
        later = setTimeout(weigh, left + 20);
        return;
      }
      const known = new Set(question.entries.map((entry) => entry.id));
      const found = await core
        .ask<Pick<Judged, "work_up" | "left_out">>("visit", { ...question })
        .catch(() => undefined);
      if (found && !stale) taking.current(found, known);
    };
    later = setTimeout(weigh, WEIGH_AFTER_MS);
    return () => {
      stale = true;
      clearTimeout(later);
    };
  }, [question, due, ready, visit]);
}
