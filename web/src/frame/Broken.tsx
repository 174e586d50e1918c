import type { ErrorComponentProps } from "@tanstack/react-router";
import { persister } from "../offline/keeping";

/** The page fell over. Readings are safe; start again without the kept answers. */
export function Broken({ error }: ErrorComponentProps) {
  const again = async () => {
    await persister.removeClient();
    location.reload();
  };
  return (
    <main className="mx-auto max-w-xl p-8">
      <h1 className="font-semibold text-2xl">This page could not be shown</h1>
      <p className="mt-2">
        No reading is lost: it is on this device or already on the server. Open the page again.
      </p>
      <p className="mt-2 quiet text-sm">{error instanceof Error ? error.message : ""}</p>
      <button type="button" className="btn btn-primary touch mt-6" onClick={again}>
        Open again
      </button>
    </main>
  );
}
