/** The visit as it is judged now: by the core on this device as soon as something was taken, and by the server when it has it. */
import { useEffect, useMemo, useRef, useState } from "react";
import { core, useCore } from "../core/core";
import type { Page } from "../logbook/logbook";
import type { Question } from "../logbook/question";

interface Judged {
  visit: string;
  known: Set<string>;
  work_up: Page["work_up"];
  left_out: Page["left_out"];
}

/** The page with the newest judgement there is: never one that leaves out what this device already counted. */
export function useJudged(page: Page, question: Question): Page {
  const state = useCore();
  const [judged, setJudged] = useState<Judged | undefined>();
  const visit = String(page.id);
  const waiting = question.entries.some((entry) => entry.waiting);
  useEffect(() => {
    if (page.core) void core.follow(page.core);
  }, [page.core]);
  const wanted = useRef<{ question: Question; visit: string; known: Set<string> } | undefined>(undefined);
  const busy = useRef(false);
  useEffect(() => {
    wanted.current = waiting
      ? { question, visit, known: new Set(question.entries.map((entry) => entry.id)) }
      : undefined;
    if (busy.current || state !== "ready") return;
    busy.current = true;
    // One question at a time, and always the newest: whoever types fast is not held up by what he typed before.
    const askOn = async (): Promise<void> => {
      const now = wanted.current;
      if (!now) return;
      wanted.current = undefined;
      const { known } = now;
      // Without an answer from here the server's comes, as it did before.
      const found = await core
        .ask<Pick<Judged, "work_up" | "left_out">>("visit", { ...now.question })
        .catch(() => undefined);
      if (found) setJudged({ ...found, visit: now.visit, known });
      await askOn();
    };
    void askOn().finally(() => {
      busy.current = false;
    });
  }, [question, waiting, state, visit]);
  return useMemo(() => {
    const more =
      judged?.visit === visit && waiting && !page.entries.some((entry) => !judged.known.has(entry.id));
    return more ? { ...page, work_up: judged.work_up, left_out: judged.left_out } : page;
  }, [page, judged, visit, waiting]);
}
