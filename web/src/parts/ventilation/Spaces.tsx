import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useCalculation } from "../../core/calculate";
import { useVisit } from "../../logbook/context";
import { standingOf } from "../../logbook/logbook";
import { Figure } from "../../shell/Figure";
import { NumberField, SelectField, TextField, Tick } from "../../shell/fields";
import { tables } from "../../units/tables.gen";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, inWords, number, type Quantity, typedSi } from "../../units/units";

type Use = Schemas["Space"]["use"];

interface Row {
  name: string;
  use: Use;
  area: string;
  people: string;
  place: string;
}

interface Need {
  spaces: { name: string; occupants: number; zone_m3s: number; by_density: boolean }[];
  diversity: Quantity;
  system_effectiveness: Quantity;
  outdoor_m3s: Quantity;
  rule: string;
  edition: string;
}

const EMPTY: Row = { name: "", use: "office", area: "", people: "", place: "ceiling_cool" };

const USES = Object.entries(tables.spaces.uses).map(([key, name]) => ({ key, name }));
const PLACES = Object.entries(tables.spaces.places).map(([key, place]) => ({
  key,
  name: `${place.name}: ${place.effectiveness}`,
}));

const effectivenessOf = (place: string): number => tables.spaces.places[place]?.effectiveness ?? 1;

const placeOf = (effectiveness: number | undefined): string =>
  Object.keys(tables.spaces.places).find((key) => effectivenessOf(key) === effectiveness) ?? "ceiling_cool";

const NET: Record<string, string> = {
  positive: "Slightly more in than out: the building pushes outwards, as it should.",
  even: "As much in as out.",
  negative: "More out than in: air is pulled in through every gap.",
  hazard:
    "Hazard: more out than in, with a flue that draws by itself. Flue gas can be pulled in. Stop, and have it checked.",
};

/** The outdoor air that rooms ask for by their use; one tap makes it what the minimum position is for. */
export default function Spaces() {
  const { entries, record, mayWrite } = useVisit();
  const { system } = useUnits();
  const said = standingOf(entries, "spaces").at(-1);
  const required = standingOf(entries, "outdoor_need").at(-1);
  const [rows, setRows] = useState<Row[]>(() =>
    said
      ? said.body.spaces.map((space) => ({
          name: space.name,
          use: space.use,
          area: asTypedExactly(space.floor_area_m2, "area", system),
          people: space.people == null ? "" : String(space.people),
          place: placeOf(space.effectiveness),
        }))
      : [EMPTY],
  );
  const [atOnce, setAtOnce] = useState(
    said?.body.people_at_once == null ? "" : String(said.body.people_at_once),
  );
  const [exhaust, setExhaust] = useState(asTypedExactly(said?.body.exhaust_m3s, "airflow", system));
  const [flue, setFlue] = useState(said?.body.natural_draft_flue ?? false);
  const [tried, setTried] = useState(false);
  const spaces = rows.map((row) => ({
    name: row.name.trim() || "Room",
    use: row.use,
    floor_area_m2: typedSi(row.area, "area", system),
    ...(row.people.trim() ? { people: Number(row.people) } : {}),
    effectiveness: effectivenessOf(row.place),
  }));
  const count = (text: string) => text.trim() === "" || /^\d{1,5}$/.test(text.trim());
  const whole =
    rows.every((row, at) => spaces[at]?.floor_area_m2 !== undefined && count(row.people)) && count(atOnce);
  const body = { spaces, ...(atOnce.trim() ? { people_at_once: Number(atOnce) } : {}) };
  const { data: need, error } = useCalculation<Need>("ventilation.spaces", whole ? body : undefined, {
    steady: true,
  });
  const out = exhaust.trim() ? typedSi(exhaust, "airflow", system) : undefined;
  const { data: net } = useCalculation<{ balance: string }>(
    "ventilation.balance",
    need && out !== undefined
      ? { outdoor_m3s: need.outdoor_m3s.value, exhaust_m3s: out, natural_draft_flue: flue }
      : undefined,
  );
  const put = (index: number, part: Partial<Row>) =>
    setRows(rows.map((row, at) => (at === index ? { ...row, ...part } : row)));
  const keep = async () => {
    setTried(true);
    if (!whole || !need) return;
    const phase = { phase: "as_found" as const };
    await record(
      "spaces",
      {
        ...body,
        spaces: spaces.map((space) => ({ ...space, floor_area_m2: space.floor_area_m2 ?? 0 })),
        ...(out === undefined ? {} : { exhaust_m3s: out }),
        natural_draft_flue: flue,
      },
      { ...phase, ...(said ? { replaces: said.id } : {}) },
    );
    await record(
      "outdoor_need",
      {
        required_m3s: need.outdoor_m3s.value,
        supply_m3s: Math.max(required?.body.supply_m3s ?? 0, need.outdoor_m3s.value),
        why: `By ${rows.length} rooms, ${need.rule === "single" ? "single zone" : "simplified rule"}, ${need.edition}`,
      },
      { ...phase, ...(required ? { replaces: required.id } : {}) },
    );
  };
  return (
    <div className="space-y-4">
      <p className="quiet">
        Rooms by their use, with the people in them. What comes out becomes what the minimum position is for.
      </p>
      {need && (
        <div>
          <p className="quiet">Outdoor air that the system must take in</p>
          <Figure quantity={need.outdoor_m3s} size="large" />
          <p>
            {need.rule === "single"
              ? "Single zone."
              : `Simplified rule: diversity ${inWords(need.diversity.value, "share", system)}, system effectiveness ${number(need.system_effectiveness.value, 2)}.`}{" "}
            <span className="quiet">{need.edition}.</span>
          </p>
        </div>
      )}
      {error && <p role="alert">{error.message}</p>}
      {rows.map((row, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rooms may be called alike
        <fieldset key={index} className="grid items-end gap-2 border-base-300 border-t pt-2 sm:grid-cols-6">
          <legend className="sr-only">Room {index + 1}</legend>
          <TextField
            className="sm:col-span-2"
            label="Room"
            value={row.name}
            onChange={(name) => put(index, { name })}
            most={80}
          />
          <SelectField
            className="sm:col-span-2"
            label="Used as"
            options={USES}
            value={row.use}
            onChange={(use) => put(index, { use: use as Use })}
          />
          <NumberField
            label="Floor"
            kind="area"
            value={row.area}
            onChange={(area) => put(index, { area })}
            wrong={tried && spaces[index]?.floor_area_m2 === undefined ? "A floor area." : ""}
          />
          <TextField
            label="People"
            mode="numeric"
            value={row.people}
            onChange={(people) => put(index, { people })}
            placeholder="usual"
            wrong={count(row.people) ? "" : "A whole number."}
          />
          <SelectField
            className="sm:col-span-5"
            label="Supply and return"
            options={PLACES}
            value={row.place}
            onChange={(place) => put(index, { place })}
          />
          <button
            type="button"
            className="btn btn-ghost touch"
            aria-label={`Take room ${index + 1} out`}
            onClick={() => setRows(rows.length > 1 ? rows.filter((_, at) => at !== index) : [EMPTY])}
          >
            <Trash2 size={18} aria-hidden="true" />
          </button>
        </fieldset>
      ))}
      <button type="button" className="btn touch" onClick={() => setRows([...rows, EMPTY])}>
        <Plus size={18} aria-hidden="true" /> One more room
      </button>
      <div className="grid items-end gap-3 sm:grid-cols-2">
        <TextField
          label="People in all of them at once (optional)"
          mode="numeric"
          value={atOnce}
          onChange={setAtOnce}
          wrong={count(atOnce) ? "" : "A whole number."}
        />
        <NumberField
          label="Exhaust of the building in all (optional)"
          kind="airflow"
          value={exhaust}
          onChange={setExhaust}
        />
      </div>
      <Tick value={flue} onChange={setFlue}>
        A burner in the building has a flue that draws by itself
      </Tick>
      {net && (
        <p
          role={net.balance === "hazard" ? "alert" : undefined}
          className={net.balance === "hazard" ? "panel border-error p-3 font-semibold" : ""}
        >
          {NET[net.balance]}
        </p>
      )}
      {mayWrite && (
        <button type="button" className="btn btn-primary touch text-base" onClick={() => void keep()}>
          Make it the minimum
        </button>
      )}
    </div>
  );
}
