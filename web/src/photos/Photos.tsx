import { Camera, Undo2 } from "lucide-react";
import { useEffect, useState } from "react";
import type { BodyOf } from "../api/entries";
import { useVisit } from "../logbook/context";
import { standingOf } from "../logbook/logbook";
import { queue, useQueue } from "../queue/useQueue";
import { FileButton } from "../shell/fields";
import { Panel } from "../shell/Panel";
import { hashOf, smaller } from "./small";

type Of = NonNullable<BodyOf<"photo">["of"]>;

const NO_PHOTO = "This device can't show that file. Choose a photo.";

/** Photos of the nameplate, the site, a station: taken or chosen, made small, kept here until the server has them. */
export function Photos({ of, station = "", what }: { of: Of; station?: string; what: string }) {
  const { page, entries, record, mayWrite } = useVisit();
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState("");
  const [open, setOpen] = useState<string | undefined>();
  const shown = standingOf(entries, "photo").filter(
    (entry) => entry.body.of === of && (entry.body.station ?? "") === station,
  );
  const add = async (file: File) => {
    setBusy(true);
    setWrong("");
    try {
      const blob = await smaller(file);
      const sha256 = await hashOf(blob);
      if (shown.some((entry) => entry.body.sha256 === sha256)) return;
      const visit = String(page.id);
      await queue.make({
        id: crypto.randomUUID(),
        what: "photo",
        body: { visit, sha256, blob },
        words: `Photo: ${what}`,
      });
      await record("photo", { sha256, of, station, words: "" });
    } catch {
      setWrong(NO_PHOTO);
    } finally {
      setBusy(false);
    }
  };
  if (shown.length === 0 && !mayWrite) return null;
  const large = shown.find((entry) => entry.id === open);
  return (
    <section aria-label={`Photos: ${what}`} className="space-y-2">
      <ul className="flex flex-wrap gap-2">
        {shown.map((entry) => (
          <li key={entry.id}>
            <button
              type="button"
              className="touch block overflow-hidden rounded border border-base-300"
              onClick={() => setOpen(entry.id)}
            >
              <Picture
                sha256={entry.body.sha256}
                words={`${what}, photo`}
                className="h-20 w-28 object-cover"
              />
            </button>
          </li>
        ))}
        {mayWrite && (
          <li>
            <FileButton types={["image/*"]} disabled={busy} onChosen={(file) => void add(file)}>
              <Camera size={18} aria-hidden="true" /> {busy ? "Making it smaller …" : `Photo: ${what}`}
            </FileButton>
          </li>
        )}
      </ul>
      {wrong && <p role="alert">{wrong}</p>}
      {large && (
        <Panel title={what} onClose={() => setOpen(undefined)}>
          <Picture
            sha256={large.body.sha256}
            words={`${what}, photo`}
            className="max-h-[60vh] w-full object-contain"
          />
          {mayWrite && (
            <button
              type="button"
              className="btn touch mt-3"
              onClick={() => {
                setOpen(undefined);
                void record(
                  "withdrawal",
                  {},
                  { replaces: large.id, reason: "taken back", phase: large.phase },
                );
              }}
            >
              <Undo2 size={18} aria-hidden="true" /> Take this photo back
            </button>
          )}
        </Panel>
      )}
    </section>
  );
}

/** From this device while it waits here; else from the server, or what was shown before. */
function Picture({ sha256, words, className }: { sha256: string; words: string; className: string }) {
  const { making } = useQueue();
  const waiting = making.find((row) => row.what === "photo" && row.body.sha256 === sha256);
  const blob = waiting?.what === "photo" ? waiting.body.blob : undefined;
  const [here, setHere] = useState<string | undefined>();
  const [lost, setLost] = useState(false);
  useEffect(() => {
    if (!blob) return setHere(undefined);
    const url = URL.createObjectURL(blob);
    setHere(url);
    setLost(false);
    return () => URL.revokeObjectURL(url);
  }, [blob]);
  if (blob && !here) return null;
  if (lost) return <span className="grid h-20 w-28 place-items-center p-2 text-sm">Not on this device</span>;
  return (
    <img
      src={here ?? `/api/v1/photos/${sha256}`}
      alt={words}
      className={className}
      onError={() => setLost(true)}
    />
  );
}
