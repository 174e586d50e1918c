import { useState } from "react";
import { api, ask } from "../../api/client";
import { useVisit } from "../../logbook/context";
import { type Controller, Trouble, useAsked, useController } from "../../logbook/controller";
import { NumberField } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { inWords, typedSi } from "../../units/units";
import { shownAs, valueWords } from "./pointWords";
import { Revisions } from "./Revisions";
import { Simulated } from "./Simulated";
import { WithEconomizer } from "./useEconomizer";

type Point = Controller["points"] extends (infer Each)[] | undefined ? Each : never;

/** The connected controller: its points now, overrides with their ledger, its configuration's revisions. */
export default function ControllerPanel() {
  const query = useController();
  const controller = query.data;
  return (
    <div className="space-y-5">
      <Connection controller={controller} />
      {controller?.connected && <Points controller={controller} />}
      <WithEconomizer>{(page) => <Revisions page={page} controller={controller} />}</WithEconomizer>
      {controller?.simulated && <Simulated controller={controller} />}
    </div>
  );
}

export function Connection({ controller }: { controller: Controller | undefined }) {
  if (!controller) return <p className="quiet">Asking the controller.</p>;
  if (!controller.connected) {
    return (
      <p role="status" className="panel border-warning p-3">
        {controller.unit ? `${controller.unit}: ` : ""}
        {controller.words}
      </p>
    );
  }
  return (
    <p className="panel flex flex-wrap items-baseline gap-x-3 p-3" role="status">
      <span className="font-semibold">{controller.unit}</span>
      <span>{controller.mode}</span>
      {(controller.alarms ?? []).map((alarm) => (
        <span key={alarm.key} className="font-semibold text-error">
          Alarm: {alarm.name}
        </span>
      ))}
      {controller.simulated && (
        <span className="ml-auto text-sm quiet">simulated, {controller.speed}× real time</span>
      )}
    </p>
  );
}

function Points({ controller }: { controller: Controller }) {
  const { page, mayWrite } = useVisit();
  const [open, setOpen] = useState<string | undefined>();
  const id = String(page.id);
  const release = useAsked((points: string[] | null) =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/controller/release", {
        params: { path: { visit_id: id } },
        body: { points },
      }),
    ),
  );
  const theirs = useAsked((_: null) =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/controller/release", {
        params: { path: { visit_id: id } },
        body: { others: true },
      }),
    ),
  );
  const held = (controller.points ?? []).filter((point) => point.overridden);
  const strays = controller.strays ?? [];
  return (
    <section aria-labelledby="points-now">
      <div className="flex flex-wrap items-center gap-3">
        <h2 id="points-now" className="flex-1 font-semibold text-lg">
          Points now
        </h2>
        {held.length > 0 && mayWrite && (
          <button
            type="button"
            className="btn btn-warning touch"
            disabled={release.isPending}
            onClick={() => release.mutate(null)}
          >
            Release all {held.length}
          </button>
        )}
      </div>
      {(controller.held_by ?? []).length > 0 && (
        <div role="alert" className="panel mt-1 space-y-2 border-error p-3">
          {(controller.held_by ?? []).map((words) => (
            <p key={words}>{words}</p>
          ))}
          <p>Ask first. Where nobody works there any more, release it: that is written down in your name.</p>
          {mayWrite && (
            <button
              type="button"
              className="btn btn-warning touch"
              disabled={theirs.isPending}
              onClick={() => theirs.mutate(null)}
            >
              Release what they hold
            </button>
          )}
          <Trouble error={theirs.error} />
        </div>
      )}
      {controller.configuration_words && (
        <p role="alert" className="panel mt-1 border-warning p-3">
          {controller.configuration_words}
        </p>
      )}
      {strays.length > 0 && (
        <p className="panel mt-1 border-warning p-3">
          The controller holds what this visit's ledger knows nothing of:{" "}
          {(controller.points ?? [])
            .filter((point) => strays.includes(point.key))
            .map((point) => point.name)
            .join(", ")}
          . Find out who needs it before you release it.
        </p>
      )}
      <Trouble error={release.error} />
      {(controller.not_released ?? []).length > 0 && (
        <p role="alert" className="panel mt-1 border-error p-3">
          The controller still holds: {(controller.not_released ?? []).join(", ")}.
        </p>
      )}
      <ul className="panel mt-2 divide-y divide-base-300 xl:columns-2 xl:gap-0 xl:divide-y-0">
        {(controller.points ?? []).map((point) => (
          <li key={point.key} className="break-inside-avoid xl:border-base-300 xl:border-b">
            <PointLine
              point={point}
              open={open === point.key}
              onOpen={() => setOpen(open === point.key ? undefined : point.key)}
              onRelease={() => release.mutate([point.key])}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}

function PointLine({
  point,
  open,
  onOpen,
  onRelease,
}: {
  point: Point;
  open: boolean;
  onOpen: () => void;
  onRelease: () => void;
}) {
  const { system } = useUnits();
  const { mayWrite } = useVisit();
  return (
    <>
      <div
        className={`flex flex-wrap items-center gap-x-3 px-3 py-1 ${point.overridden ? "bg-warning/20" : ""}`}
      >
        <span className="basis-full pt-1 sm:flex-1 sm:basis-0 sm:pt-0">{point.name}</span>
        <span className="reading flex-1 font-semibold text-lg sm:flex-none">
          {point.value === null
            ? point.text || "not told"
            : valueWords(point.value, shownAs(point.key, point.kind), system)}
        </span>
        <span className="flex min-h-12 w-28 items-center justify-end">
          {point.overridden ? (
            <button type="button" className="btn btn-warning touch" disabled={!mayWrite} onClick={onRelease}>
              Release
            </button>
          ) : (
            point.overridable &&
            mayWrite && (
              <button type="button" className="btn btn-ghost touch" aria-expanded={open} onClick={onOpen}>
                Override
              </button>
            )
          )}
        </span>
      </div>
      {open && !point.overridden && <OverrideForm point={point} onDone={onOpen} />}
    </>
  );
}

function OverrideForm({ point, onDone }: { point: Point; onDone: () => void }) {
  const { page } = useVisit();
  const { system } = useUnits();
  const [typed, setTyped] = useState("");
  const [tried, setTried] = useState(false);
  const value = typedSi(typed, point.kind, system);
  const outside = value !== undefined && (value < point.low || value > point.high);
  const wrong =
    value === undefined
      ? "A number, please."
      : outside
        ? `Between ${inWords(point.low, point.kind, system)} and ${inWords(point.high, point.kind, system)}.`
        : "";
  const send = useAsked((held: number) =>
    ask(
      api.POST("/api/v1/visits/{visit_id}/controller/override", {
        params: { path: { visit_id: String(page.id) } },
        body: { point: point.key, value: held, why: "" },
      }),
    ),
  );
  return (
    <form
      noValidate
      aria-label={`Override ${point.name}`}
      className="space-y-2 bg-base-200/50 p-3"
      onSubmit={(event) => {
        event.preventDefault();
        setTried(true);
        if (!wrong && value !== undefined) send.mutate(value, { onSuccess: onDone });
      }}
    >
      <NumberField
        label={`Hold ${point.name.toLowerCase()} at`}
        kind={point.kind}
        value={typed}
        onChange={setTyped}
        wrong={tried ? wrong : ""}
      />
      <p className="text-sm quiet">
        It goes into the ledger of temporary changes before the controller is told.
      </p>
      <Trouble error={send.error} />
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary touch" disabled={send.isPending}>
          Hold it
        </button>
        <button type="button" className="btn btn-ghost touch" onClick={onDone}>
          Leave it
        </button>
      </div>
    </form>
  );
}
