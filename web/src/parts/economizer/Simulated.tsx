import { api, ask } from "../../api/client";
import { useVisit } from "../../logbook/context";
import { type Controller, Trouble, useAsked } from "../../logbook/controller";
import { Choices, SelectField, Tick } from "../../shell/fields";

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
      <SelectField
        className="max-w-md"
        label="What is wrong with it (the unit starts anew)"
        value={controller.preset ?? ""}
        onChange={(preset) => change.mutate({ preset })}
        options={Object.entries(presets).map(([key, name]) => ({ key, name }))}
      />
      <Tick value={controller.reachable ?? true} onChange={(reachable) => change.mutate({ reachable })}>
        The controller answers
      </Tick>
      {(controller.alarms ?? []).some((alarm) => alarm.key === "freeze_trip") && (
        <button type="button" className="btn btn-warning touch" onClick={() => reset.mutate(undefined)}>
          Reset freeze protection by hand
        </button>
      )}
      <Trouble error={change.error ?? reset.error} />
    </section>
  );
}
