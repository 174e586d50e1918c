import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { csrfToken, Unanswered } from "../../../api/client";
import { jsonLines } from "../../../api/lines";
import { core } from "../../../core/core";
import { ToolHead } from "../../../live/Probes";
import { useVisit } from "../../../logbook/context";
import { FileButton } from "../../../shell/fields";
import { useUnits } from "../../../units/UnitSystem";
import { Columns, Times } from "./Columns";
import { type Event, type Look, type Mapping, suggested } from "./file";
import { Outcome } from "./Outcome";
import { lookHere, MOST_BYTES, readHere } from "./onDevice";

/** A logger's CSV file into this visit: look, say what each column holds, check, bring in. */
export function LoggerFile() {
  const { page, openTool } = useVisit();
  const [file, setFile] = useState<File | undefined>();
  const look = useMutation({
    mutationFn: async (chosen: File) => {
      const form = new FormData();
      form.append("file", chosen);
      const away = here(chosen);
      const answer = await fetch(`/api/v1/visits/${String(page.id)}/logger-files/look`, {
        method: "POST",
        body: form,
        headers: { "X-CSRFToken": csrfToken() },
      }).catch((error: unknown) => {
        if (!away) throw error;
        return undefined;
      });
      if (!answer || (away && answer.status >= 404 && answer.status !== 422)) return lookHere(chosen);
      const told = await answer.json();
      if (!answer.ok) throw new Error(told.detail ?? "This file can't be read.");
      return told as Look;
    },
  });
  const choose = (chosen: File) => {
    setFile(chosen);
    look.reset();
    look.mutate(chosen);
  };
  return (
    <div className="space-y-4">
      <ToolHead title="Logger file" close={() => openTool(undefined)} />
      <div className="panel flex flex-wrap items-center gap-3 p-4">
        <FileButton types={[".csv", ".txt", ".tsv", "text/csv"]} onChosen={choose}>
          Choose a CSV file
        </FileButton>
        <p>{file ? file.name : "Of any logger. The same file twice adds nothing."}</p>
      </div>
      {look.isPending && <p role="status">Looking at the file…</p>}
      {look.isError && (
        <p role="alert" className="rounded border border-error p-2">
          {look.error instanceof TypeError
            ? "No signal, and this file is too large for this device, or the device is not ready yet. It can be looked at once the server answers."
            : look.error.message}
        </p>
      )}
      {look.data && file && <Mapper key={file.name + file.size} file={file} look={look.data} />}
    </div>
  );
}

/** This device can read it by itself. */
const here = (file: File): boolean => core.state === "ready" && file.size <= MOST_BYTES;

function Mapper({ file, look }: { file: File; look: Look }) {
  const { page, question } = useVisit();
  const { system } = useUnits();
  const known = useQueryClient();
  const [mapping, setMapping] = useState<Mapping>(() => look.mapping ?? suggested(look, system));
  const [offset, setOffset] = useState(-new Date().getTimezoneOffset());
  const [progress, setProgress] = useState<Event | undefined>();
  const stop = useRef<AbortController | undefined>(undefined);
  const running = progress?.event === "progress" || progress?.event === "writing";
  const done = progress?.event === "done" ? progress : undefined;

  const send = async (mode: "check" | "all" | "good") => {
    const form = new FormData();
    form.append("file", file);
    form.append("mapping", JSON.stringify(mapping));
    form.append("utc_offset_min", String(offset));
    form.append("mode", mode);
    const control = new AbortController();
    stop.current = control;
    setProgress({ event: "progress", lines: 0, bad: 0 });
    try {
      const answer = await fetch(`/api/v1/visits/${String(page.id)}/logger-files`, {
        method: "POST",
        body: form,
        headers: { "X-CSRFToken": csrfToken() },
        signal: control.signal,
      });
      if (!answer.ok || !answer.body) {
        const told = await answer.json();
        const refusal = told.refusals?.[0];
        setProgress({ event: "refused", detail: told.detail, path: refusal?.path ?? "" });
        return;
      }
      for await (const event of jsonLines<Event>(answer.body)) setProgress(event);
      if (mode !== "check")
        for (const what of ["visit", "logged"])
          void known.invalidateQueries({ queryKey: [what, String(page.id)] });
    } catch (error) {
      const stopped = error instanceof DOMException && error.name === "AbortError";
      if (!stopped && here(file)) {
        await readHere(String(page.id), question, file, mapping, offset, mode).then(
          setProgress,
          (refused: unknown) => {
            const problem = refused instanceof Unanswered ? refused.problem : undefined;
            const detail = problem?.detail ?? "This device can't read the file. Try again with signal.";
            setProgress({ event: "refused", detail, path: problem?.refusals?.[0]?.path ?? "" });
          },
        );
        return;
      }
      setProgress(
        stopped
          ? { event: "stopped" }
          : {
              event: "refused",
              detail: "The connection broke. Nothing was brought in; try again.",
              path: "",
            },
      );
    }
  };
  const change = (next: Mapping) => {
    setMapping(next);
    setProgress(undefined);
  };
  return (
    <div className="space-y-4">
      {look.mapping && (
        <p role="status">A file with these headings was read before: its columns are filled in.</p>
      )}
      <Times look={look} mapping={mapping} change={change} offset={offset} setOffset={setOffset} />
      <Columns
        look={look}
        mapping={mapping}
        change={change}
        refused={progress?.event === "refused" ? progress : undefined}
      />
      {progress?.event === "refused" && (
        <p role="alert" className="rounded border-2 border-error p-2">
          {progress.detail}
        </p>
      )}
      {progress?.event === "stopped" && <p role="status">Stopped. Nothing was brought in.</p>}
      {running ? (
        <div className="panel flex flex-wrap items-center gap-4 p-4">
          <span className="loading loading-spinner" aria-hidden="true" />
          <span role="status">
            {progress?.event === "progress"
              ? `${progress.lines.toLocaleString("en-US")} lines read, ${progress.bad} bad`
              : "Writing…"}
          </span>
          <button type="button" className="btn touch" onClick={() => stop.current?.abort()}>
            Stop
          </button>
        </div>
      ) : (
        <div className="flex flex-wrap gap-2">
          <button
            type="button"
            className={`btn touch text-base ${done ? "" : "btn-primary"}`}
            onClick={() => void send("check")}
          >
            Check the file
          </button>
          {done?.mode === "check" && done.rows > 0 && (
            <button
              type="button"
              className="btn btn-primary touch text-base"
              onClick={() => void send(done.bad ? "good" : "all")}
            >
              {done.bad ? `Bring in the ${done.rows} good lines` : `Bring in all ${done.rows} lines`}
            </button>
          )}
          {done?.mode === "check" && done.bad > 0 && (
            <button type="button" className="btn touch text-base" onClick={() => void send("all")}>
              All or nothing
            </button>
          )}
        </div>
      )}
      {done && <Outcome done={done} mapping={mapping} />}
    </div>
  );
}
