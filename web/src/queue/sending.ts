/** What was made on this device, to the server: each has its id already, so sending twice is harmless. */
import { api, ask, csrfToken, type Problem, Unanswered } from "../api/client";
import { jsonLines } from "../api/lines";
import type { Making, WaitingFile, WaitingPhoto } from "./store";

export const sendMaking = async (row: Making): Promise<unknown> => {
  switch (row.what) {
    case "site":
      return ask(api.POST("/api/v1/sites", { body: row.body as never }));
    case "system":
      return ask(
        api.POST("/api/v1/sites/{site_id}/systems", {
          params: { path: { site_id: String(row.body.site) } },
          body: row.body as never,
        }),
      );
    case "instrument":
      return ask(api.POST("/api/v1/instruments", { body: row.body as never }));
    case "visit":
      return ask(api.POST("/api/v1/visits", { body: row.body as never }));
    case "logger_file":
      return sendFile(row.body);
    case "photo":
      return sendPhoto(row.body);
  }
};

/** A logger's file that was read without signal; the same file twice adds nothing. */
async function sendFile({ visit, name, text, mapping, utc_offset_min, mode }: WaitingFile): Promise<void> {
  const form = new FormData();
  form.append("file", new File([text], name, { type: "text/csv" }));
  form.append("mapping", mapping);
  form.append("utc_offset_min", String(utc_offset_min));
  form.append("mode", mode);
  const answer = await send(`/api/v1/visits/${visit}/logger-files`, "POST", form);
  let last: { event: string; detail?: string; path?: string } = { event: "" };
  if (answer.body) for await (const event of jsonLines<typeof last>(answer.body)) last = event;
  if (last.event === "refused") {
    const detail = last.detail ?? "Refused.";
    const refusals = [{ path: last.path ?? "", sentence: { text: detail, numbers: {} } }];
    throw new Unanswered(422, { detail, refusals });
  }
  if (last.event !== "done") throw new Unanswered(0, undefined);
}

/** Once it is there, it is kept here as it was shown from there. */
async function sendPhoto({ visit, sha256, blob }: WaitingPhoto): Promise<void> {
  await send(`/api/v1/visits/${visit}/photos/${sha256}`, "PUT", blob);
  if ("caches" in globalThis)
    await caches
      .open("photos")
      .then((cache) => cache.put(`/api/v1/photos/${sha256}`, new Response(blob)))
      .catch(() => undefined);
}

async function send(path: string, method: string, body: FormData | Blob): Promise<Response> {
  const headers = {
    "X-CSRFToken": csrfToken(),
    ...(body instanceof Blob ? { "Content-Type": body.type } : {}),
  };
  const answer = await fetch(path, { method, body, headers }).catch(() => {
    throw new Unanswered(0, undefined);
  });
  if (answer.ok) return answer;
  const told = (await answer.json().catch(() => undefined)) as Problem | undefined;
  throw new Unanswered(answer.status, told?.refusals ? told : undefined);
}
