import { api, ask } from "../../api/client";
import { useVisit } from "../../logbook/context";
import { type Controller, Trouble, useAsked } from "../../logbook/controller";
import { Choices } from "../../shell/fields";

const SPEEDS = { "1": "Real time", "10": "10×", "30": "30×", "60": "60×" };

/** What the simulated unit plays: for trying out, and for learning. */
export function Simulated({ controller }: { controller: Controller }) {
  const { page, mayWrite } = useVisit();
  const change = useAsked((body: { preset?: string; speed?: number; reachable?: boolean }) =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/controller/scene", {
        params: { path: { visit_id: String(page.id) } },
        body: { preset: "", ...body },
      }),
    ),
  );
  const reset = useAsked((_: undefined) =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/controller/hand", {
        params: { path: { visit_id: String(page.id) } },
        body: { action: "freeze_reset", value: "" },
      }),
    ),
  );
  if (!mayWrite) return null;
  const presets = Object.fromEntries(
    (controller.presets ?? []).map((each) => [each.key ?? "", each.name ?? ""]),
  );
  return (
    <section className="panel space-y-3 bg-base-200/50 p-4" aria-labelledby="scene">
      <h2 id="scene" className="font-semibold text-lg">
        What the simulated unit plays
      </h2>
      <Choices
        label="How fast"
        options={SPEEDS}
        value={String(controller.speed)}
        onChange={(key) => change.mutate({ speed: Number(key) })}
      />
      <label className="block">
        <span className="mb-1 block">What is wrong with it (the unit starts anew)</span>
        <select
          className="select touch w-full max-w-md"
          value={controller.preset ?? ""}
          onChange={(event) => change.mutate({ preset: event.target.value })}
        >
          {Object.entries(presets).map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <label className="touch flex items-center gap-3">
        <input
          type="checkbox"
          className="checkbox"
          checked={controller.reachable ?? true}
          onChange={(event) => change.mutate({ reachable: event.target.checked })}
        />
        The controller answers
      </label>
      {(controller.alarms ?? []).some((alarm) => alarm.key === "freeze_trip") && (
        <button type="button" className="btn btn-warning touch" onClick={() => reset.mutate(undefined)}>
          Reset freeze protection by hand
        </button>
      )}
      <Trouble error={change.error ?? reset.error} />
    </section>
  );
}
