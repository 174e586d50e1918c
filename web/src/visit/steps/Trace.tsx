import { ArrowRight, Check, TriangleAlert, Undo2 } from "lucide-react";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { type Station, standingOf } from "../../logbook/logbook";
import { OneOf } from "../../logbook/OneOf";
import { FormNumber, FormText, filled, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { inWords, typedSi } from "../../units/units";
import { MoreStations } from "./StationCards";

/** Which way the air goes, where each station lies here, which branch feeds which room. */
export function Trace() {
  const { page } = useVisit();
  const { path } = page.work_up;
  const used = new Set(page.work_up.phases[0]?.ribbon.more ?? []);
  const stations = path.stations.filter((station) => station.core || used.has(station.id));
  return (
    <div className="space-y-4">
      <FilterArrow />
      <section aria-labelledby="stations">
        <h2 id="stations" className="font-semibold text-lg">
          Where to read on this system
        </h2>
        <ul className="panel mt-2 divide-y divide-base-300">
          {stations.map((station) => (
            <PlaceLine key={station.id} station={station} />
          ))}
        </ul>
        <div className="mt-2">
          <MoreStations />
        </div>
      </section>
      {page.work_up.parts?.includes("airflow") && <Branches />}
    </div>
  );
}

function FilterArrow() {
  const { entries, page } = useVisit();
  const seen = standingOf(entries, "observation").findLast((entry) => entry.body.item === "filter_arrow");
  const elements = page.work_up.path.bands[0]?.elements ?? [];
  return (
    <section className="panel p-4" aria-labelledby="arrow">
      <h2 id="arrow" className="font-semibold text-lg">
        Does the filter's arrow agree with this way of the air?
      </h2>
      <p className="mt-1 flex flex-wrap items-center gap-x-1.5 gap-y-1">
        {elements.map((element, index) => (
          <span key={element.id} className="inline-flex items-center gap-1.5">
            {index > 0 && <ArrowRight size={16} aria-hidden="true" />}
            <span className={element.kind === "filter" ? "rounded bg-base-200 px-1.5 font-semibold" : ""}>
              {element.name}
            </span>
          </span>
        ))}
      </p>
      <OneOf item="filter_arrow" legend="The filter's arrow" usual="agrees" />
      {seen?.body.value === "against" && (
        <p role="alert" className="mt-2 flex gap-2">
          <TriangleAlert size={18} className="mt-0.5 shrink-0 text-error" aria-hidden="true" />
          Either the filter is in backwards, or return and supply are mixed up. Feel which way the air goes at
          a grille before you read anything.
        </p>
      )}
    </section>
  );
}

function PlaceLine({ station }: { station: Station }) {
  const { entries, record, mayWrite } = useVisit();
  const placed = standingOf(entries, "placement").findLast((entry) => entry.body.station === station.id);
  const [open, setOpen] = useState(false);
  const { control, handleSubmit } = useForm({ defaultValues: { where: placed?.body.where ?? "" } });
  const send = handleSubmit(({ where }) => {
    setOpen(false);
    void record("placement", { station: station.id, where: where.trim() }, { phase: "as_found" });
  });
  return (
    <li className="grid gap-x-4 gap-y-1 p-3 wide:grid-cols-[1fr_auto]">
      <div>
        <h3 className="font-semibold">
          {station.name}
          {station.needed && <span className="ml-2 font-normal text-sm quiet">needed</span>}
        </h3>
        <p>{station.where}</p>
        <p className="text-sm quiet">Keep away from: {station.avoid}</p>
        {placed && (
          <p className="mt-0.5">
            <Check size={16} className="mr-1 inline text-success" aria-hidden="true" />
            <span className="font-semibold">Here:</span> {placed.body.where || "as described"}
          </p>
        )}
      </div>
      {mayWrite && !open && (
        <button type="button" className="btn touch self-center" onClick={() => setOpen(true)}>
          {placed ? "Change" : "It is here"}
        </button>
      )}
      {open && (
        <form onSubmit={send} className="flex gap-2 wide:col-span-2">
          <FormText
            control={control}
            name="where"
            className="min-w-0 flex-1"
            label={`Where ${station.name} lies here`}
            quiet
            most={200}
            placeholder="As described, or in your words"
          />
          <button type="submit" className="btn btn-primary touch">
            Write down
          </button>
        </form>
      )}
    </li>
  );
}

const NO_BRANCH = { room: "", floor: "", diameter: "", run: "" };

/** Branches of the plate, and those found today. */
function Branches() {
  const { page, entries, record, mayWrite } = useVisit();
  const { system } = useUnits();
  const { control, handleSubmit, reset } = useForm({ defaultValues: NO_BRANCH });
  const found = standingOf(entries, "branch");
  const send = handleSubmit((typed) => {
    void record(
      "branch",
      {
        room: typed.room.trim(),
        floor: typed.floor.trim(),
        diameter_m: typedSi(typed.diameter, "diameter", system) ?? null,
        run_m: typedSi(typed.run, "length", system) ?? null,
      },
      { phase: "as_found" },
    );
    reset();
  });
  const aboveZero = (kind: string) => {
    const words = "A number above zero, or nothing.";
    return numberRule(kind, system, (si) => si > 0 || words, { optional: true, words });
  };
  return (
    <section aria-labelledby="branches">
      <h2 id="branches" className="font-semibold text-lg">
        Branches
      </h2>
      {(page.work_up.path.branches ?? []).length > 0 ? (
        <ul className="panel mt-2 grid divide-y divide-base-300 wide:grid-cols-2 wide:divide-y-0">
          {page.work_up.path.branches.map((branch) => {
            const noted = found.find(
              (entry) => entry.body.room === branch.room && (entry.body.floor ?? "") === branch.floor,
            );
            return (
              <li key={`${branch.room}/${branch.floor}`} className="flex items-center gap-2 px-3 py-1.5">
                <span className="flex-1">
                  {branch.room}
                  {branch.floor && <span className="quiet">, {branch.floor.toLowerCase()}</span>}
                </span>
                <span className="reading text-sm">
                  {branch.diameter_m != null && inWords(branch.diameter_m, "diameter", system)}
                  {branch.run_m != null && ` × ${inWords(branch.run_m, "length", system)}`}
                </span>
                {noted && mayWrite && (
                  <button
                    type="button"
                    className="btn btn-ghost touch"
                    aria-label={`Take back: ${branch.room}`}
                    onClick={() =>
                      void record("withdrawal", {}, { replaces: noted.id, reason: "taken back" })
                    }
                  >
                    <Undo2 size={18} aria-hidden="true" />
                  </button>
                )}
              </li>
            );
          })}
        </ul>
      ) : (
        <p className="mt-1 quiet">
          None on the nameplate. Note each one you find: it gets a register to read.
        </p>
      )}
      {mayWrite && (
        <form
          onSubmit={send}
          noValidate
          className="mt-2 grid items-start gap-2 wide:grid-cols-[2fr_1fr_1fr_1fr_auto]"
        >
          <FormText control={control} name="room" label="Room" most={120} rules={filled("Name the room.")} />
          <FormText control={control} name="floor" label="Floor" most={120} />
          <FormNumber
            control={control}
            name="diameter"
            label="Diameter"
            kind="diameter"
            rules={aboveZero("diameter")}
          />
          <FormNumber control={control} name="run" label="Length" kind="length" rules={aboveZero("length")} />
          <button type="submit" className="btn touch wide:mt-7">
            Note this branch
          </button>
        </form>
      )}
    </section>
  );
}
