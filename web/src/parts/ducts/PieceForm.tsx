import { Minus } from "lucide-react";
import { useState } from "react";
import { type Control, useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormChoices, FormNumber, FormSelect, FormText, filled, numberRule } from "../../shell/fields";
import { tables } from "../../units/tables.gen";
import { useUnits } from "../../units/UnitSystem";
import { inWords, siOf } from "../../units/units";
import { FittingSign } from "./FittingSign";
import { branchOf, NUMBERS, type NumberName, PLENUM, ROUNDS, type Typed, trunkOf, typedOf } from "./piece";
import type { Page, RoomBranch, Trunk } from "./useDucts";

const ABOVE_ZERO = "A number above zero.";

/** A piece to note, or one to correct. A new branch begins as the last one was: size, wall, fittings, damper, register. */
export function PieceForm({
  ducts,
  what,
  piece,
  done,
}: {
  ducts: Page;
  what: "trunk" | "branch";
  piece?: RoomBranch | Trunk;
  done: () => void;
}) {
  const { record } = useVisit();
  const { system } = useUnits();
  const trunks = (ducts.trunks ?? []).map((line) => line.piece);
  const branches = (ducts.branches ?? []).map((line) => line.piece);
  const first = piece ?? likeTheLast(what, trunks, branches);
  const [fittings, setFittings] = useState<string[]>(first.fittings ?? []);
  const { control, handleSubmit, setValue, watch, reset } = useForm<Typed>({
    defaultValues: typedOf(first, system),
  });
  const [shape, wall, damper] = watch(["shape", "wall", "damper"]);
  const taken = new Set(
    branches.filter((each) => each.id !== piece?.id).map((each) => place(each.room, each.floor ?? "")),
  );
  const send = handleSubmit(async (typed) => {
    const id = piece?.id ?? crypto.randomUUID();
    const kept =
      what === "branch"
        ? record("duct_branch", branchOf(id, typed, fittings, system))
        : record("duct_trunk", trunkOf(id, typed, fittings, system));
    if (piece || what === "trunk") done();
    else reset({ ...typed, room: "", length_m: "", cooling_design_m3s: "", heating_design_m3s: "" });
    await kept;
  });
  const leaves = [
    { key: PLENUM, name: "The plenum" },
    ...trunks
      .filter((each) => each.id !== piece?.id)
      .map((each, index) => ({ key: each.id, name: each.name || `Trunk ${index + 1}` })),
  ];
  return (
    <form onSubmit={send} className="panel space-y-4 p-4" noValidate aria-labelledby="piece">
      <h2 id="piece" className="font-semibold text-lg">
        {piece ? "Correct it" : what === "branch" ? "A branch to a room" : "A trunk"}
      </h2>
      <div className="grid gap-3 sm:grid-cols-2">
        {what === "branch" ? (
          <>
            <FormText
              control={control}
              name="room"
              label="Room"
              rules={{
                validate: (room) =>
                  (room.trim() === "" && "Say which room it goes to.") ||
                  (taken.has(place(room, watch("floor"))) &&
                    "There is already a branch to this room. Call this one by where its register is.") ||
                  true,
              }}
            />
            <FormText control={control} name="floor" label="Floor (optional)" />
          </>
        ) : (
          <FormText control={control} name="name" label="Name" rules={filled("Give it a name: North run.")} />
        )}
        {trunks.length > 0 && (
          <FormSelect control={control} name="after" label="It leaves" options={leaves} />
        )}
      </div>
      <div className="grid gap-3 sm:grid-cols-2">
        <FormChoices
          control={control}
          name="shape"
          label="Shape"
          options={{ round: "Round", sides: "Two sides" }}
        />
        <FormNumber
          control={control}
          name="length_m"
          label="Length"
          kind="length"
          rules={numberRule("length", system, (si) => si > 0 || ABOVE_ZERO, {
            words: ABOVE_ZERO,
            empty: "How long is it?",
          })}
        />
        {shape === "round" ? (
          <div className="sm:col-span-2">
            <Size control={control} name="diameter_m" label="Diameter" />
            <div className="mt-2 flex flex-wrap gap-2">
              {ROUNDS[system].map((metres) => (
                <button
                  key={metres}
                  type="button"
                  className="btn touch"
                  onClick={() =>
                    setValue("diameter_m", typedOf({ diameter_m: metres }, system).diameter_m, {
                      shouldValidate: true,
                    })
                  }
                >
                  {inWords(metres, "depth", system)}
                </button>
              ))}
            </div>
          </div>
        ) : (
          <>
            <Size control={control} name="width_m" label="Width" />
            <Size control={control} name="height_m" label="Height" />
          </>
        )}
      </div>
      <FormChoices control={control} name="wall" label="Wall" options={tables.ducts.walls} />
      {wall === "flexible" && (
        <FormNumber
          control={control}
          name="compressed"
          label="How much shorter it lies than pulled straight (0: straight)"
          kind="share"
          rules={numberRule("share", system, (si) => (si >= 0 && si <= 0.5) || "0 to 50 %.", {
            optional: true,
          })}
        />
      )}
      <Fittings chosen={fittings} choose={setFittings} />
      {what === "branch" && (
        <>
          <FormChoices
            control={control}
            name="damper"
            label="Damper in the branch"
            options={tables.ducts.dampers}
          />
          <details className="border-base-300 border-t pt-2" open={Boolean(piece)}>
            <summary className="touch flex cursor-pointer items-center font-semibold">
              Register, and what the room should get
            </summary>
            <div className="grid gap-3 pt-2 sm:grid-cols-2">
              {damper !== "none" && (
                <Optional control={control} name="damper_deg" label="Damper is at (° from open)" most={90} />
              )}
              <Optional control={control} name="register_open" label="Register open" most={1} />
              <Optional control={control} name="register_pa" label="Register loses, by its maker" />
              <Optional control={control} name="register_m3s" label="at a flow of" />
              <Optional control={control} name="face_area_m2" label="Register's free face" />
              <FormChoices
                control={control}
                name="quiet"
                label="A quiet room?"
                options={{ no: "Ordinary", yes: "Quiet: sleep, speech" }}
              />
              <Optional control={control} name="cooling_design_m3s" label="Design airflow, cooling" />
              <Optional control={control} name="heating_design_m3s" label="Design airflow, heating" />
              <Optional control={control} name="room_load_w" label="Room's load" />
              <Optional control={control} name="floor_area_m2" label="Room's floor area" />
            </div>
          </details>
        </>
      )}
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="btn btn-primary touch text-base">
          {piece ? "Correct it" : what === "branch" ? "Note it, and the next" : "Note the trunk"}
        </button>
        <button type="button" className="btn touch" onClick={done}>
          {piece ? "Leave it" : "Done"}
        </button>
      </div>
    </form>
  );
}

const place = (room: string, floor: string) => `${room.trim().toLowerCase()}|${floor.trim().toLowerCase()}`;

/** A new piece is mostly like the last one. */
function likeTheLast(
  what: "trunk" | "branch",
  trunks: Trunk[],
  branches: RoomBranch[],
): Partial<RoomBranch> & Partial<Trunk> {
  const trunk = trunks.at(-1);
  if (what === "trunk") {
    return {
      ...(trunk ? { after: trunk.id, wall: trunk.wall } : { fittings: ["plenum_entry"] }),
      width_m: 0.4,
      height_m: 0.25,
    };
  }
  const last = branches.at(-1);
  if (!last) return { after: trunk?.id ?? "", fittings: ["takeoff_shoe", "boot_turning"], diameter_m: 0.15 };
  const {
    room,
    length_m,
    cooling_design_m3s,
    heating_design_m3s,
    room_load_w,
    floor_area_m2,
    damper_deg,
    quiet,
    ...same
  } = last;
  return {
    ...same,
    after: trunk && branches.every((each) => each.after !== trunk.id) ? trunk.id : (last.after ?? ""),
  };
}

interface Of {
  control: Control<Typed>;
  name: NumberName;
  label: string;
}

function Size({ control, name, label }: Of) {
  const { system } = useUnits();
  const rule = numberRule("depth", system, (si) => (si > 0 && si <= 3) || ABOVE_ZERO, {
    words: ABOVE_ZERO,
    empty: "Give its size.",
  });
  return <FormNumber control={control} name={name} label={label} kind="depth" rules={rule} />;
}

function Optional({ control, name, label, most = Number.POSITIVE_INFINITY }: Of & { most?: number }) {
  const { system } = useUnits();
  const kind = NUMBERS[name];
  const least = most < Number.POSITIVE_INFINITY ? 0 : Number.MIN_VALUE;
  const words = least ? ABOVE_ZERO : "Out of its range.";
  const rule = numberRule(kind, system, (si) => (si >= least && si <= most) || words, {
    optional: true,
    words,
  });
  return <FormNumber control={control} name={name} label={label} kind={kind} rules={rule} />;
}

/** Each tap adds one; the small button takes one away. */
function Fittings({ chosen, choose }: { chosen: string[]; choose: (fittings: string[]) => void }) {
  const count = (key: string) => chosen.filter((each) => each === key).length;
  const without = (key: string) => {
    const at = chosen.lastIndexOf(key);
    choose(chosen.filter((_, index) => index !== at));
  };
  return (
    <fieldset>
      <legend className="mb-1">Fittings in it: tap each as often as it is there</legend>
      <ul className="grid gap-2 sm:grid-cols-2 wide:grid-cols-3">
        {tables.ducts.fittings.map((fitting) => (
          <li key={fitting.key} className="flex">
            <button
              type="button"
              className={`btn touch h-auto flex-1 justify-start gap-2 px-2 py-1 text-left font-normal leading-tight ${
                count(fitting.key) ? "btn-neutral" : ""
              }`}
              aria-label={`${fitting.name}: ${count(fitting.key)}`}
              onClick={() => chosen.length < 12 && choose([...chosen, fitting.key])}
            >
              <FittingSign fitting={fitting.key} />
              <span className="min-w-0 flex-1">{fitting.name}</span>
              {count(fitting.key) > 0 && <span className="reading font-semibold">{count(fitting.key)}</span>}
            </button>
            {count(fitting.key) > 0 && (
              <button
                type="button"
                className="btn touch ml-1 px-2"
                aria-label={`One less: ${fitting.name}`}
                onClick={() => without(fitting.key)}
              >
                <Minus size={18} aria-hidden="true" />
              </button>
            )}
          </li>
        ))}
      </ul>
    </fieldset>
  );
}

/** The room's temperature after the unit has run its time. */
export function Survey({ branch, done }: { branch: RoomBranch; done: () => void }) {
  const { record, phase } = useVisit();
  const { system } = useUnits();
  const { control, handleSubmit, reset } = useForm({ defaultValues: { room: "", wanted: "" } });
  const rule = (optional: boolean) =>
    numberRule("temperature", system, (si) => (si >= -20 && si <= 60) || "No room is that warm or cold.", {
      optional,
      words: "A temperature, please.",
    });
  const send = handleSubmit(async (typed) => {
    const body = {
      branch: branch.id,
      room_c: siOf(typed.room, "temperature", system),
      ...(typed.wanted.trim() ? { wanted_c: siOf(typed.wanted, "temperature", system) } : {}),
    };
    const kept = record("room_surveyed", body, { phase });
    reset();
    done();
    await kept;
  });
  return (
    <form onSubmit={send} noValidate className="flex flex-wrap items-end gap-2">
      <FormNumber
        control={control}
        name="room"
        label="Room now"
        kind="temperature"
        rules={rule(false)}
        className="w-36"
      />
      <FormNumber
        control={control}
        name="wanted"
        label="Wanted (optional)"
        kind="temperature"
        rules={rule(true)}
        className="w-44"
      />
      <button type="submit" className="btn touch">
        Keep
      </button>
    </form>
  );
}
