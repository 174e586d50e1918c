/** The fields of a system's nameplate and of its site, for a new one and for one that is set right. */
import { ElementSign } from "../ribbon/signs";
import { NumberField, SelectField, TextField, Tick } from "../shell/fields";
import type { PlateField } from "../units/tables";
import { tables } from "../units/tables.gen";
import { plateFields, type Values } from "./plate";

interface Form {
  values: Values;
  put: (key: string, text: string) => void;
  wrong: Values;
}

/** What a plate of this kind says, in its order; what each open field costs stands below it. */
export function PlateFields({ kind, values, put, wrong }: Form & { kind: string }) {
  return (
    <div className="grid items-start gap-3 wide:grid-cols-2">
      {plateFields(kind).map((field) => (
        <PlateInput
          key={field.key}
          field={field}
          value={values[field.key] ?? ""}
          onChange={(text) => put(field.key, text)}
          wrong={wrong[`nameplate.${field.key}`] ?? ""}
        />
      ))}
    </div>
  );
}

/** What a system is called, and where it stands. */
export function NameFields({ values, put, wrong }: Form) {
  return (
    <div className="grid items-start gap-3 wide:grid-cols-2">
      <TextField
        label="Name, as you will look for it"
        value={values.name ?? ""}
        onChange={(text) => put("name", text)}
        most={100}
        wrong={wrong.name ?? ""}
      />
      <TextField
        label="Where it stands (roof, attic, closet)"
        value={values.location ?? ""}
        onChange={(text) => put("location", text)}
        most={200}
        wrong={wrong.location ?? ""}
      />
    </div>
  );
}

/** A site: its name, how high it lies, its climate. */
export function SiteFields({ values, put, wrong }: Form) {
  return (
    <div className="grid items-start gap-3 wide:grid-cols-2">
      <TextField
        label="Name of the site"
        value={values.name ?? ""}
        onChange={(text) => put("name", text)}
        most={100}
        wrong={wrong["site.name"] ?? ""}
      />
      <SelectField
        label="Climate zone, if known"
        options={tables.climate_zones.map((zone) => ({ key: zone, name: zone }))}
        value={values.zone ?? ""}
        onChange={(text) => put("zone", text)}
        empty="Not known"
        wrong={wrong["site.climate_zone"] ?? ""}
      />
      <NumberField
        label="Elevation (0: sea level)"
        kind="length"
        value={values.elevation ?? ""}
        onChange={(text) => put("elevation", text)}
        wrong={wrong["site.elevation_m"] ?? ""}
      />
      <NumberField
        label="Or a barometer's reading there"
        kind="barometric_pressure"
        value={values.barometer ?? ""}
        onChange={(text) => put("barometer", text)}
        wrong={wrong["site.barometer_pa"] ?? ""}
      />
    </div>
  );
}

const NAMED: Record<string, string> = { heat_exchanger: "furnace", mixing: "mixing" };
/** Of one element in the drawing. */
const WIDE = 62;
/** All drawings at one scale. */
const MOST = Math.max(...Object.values(tables.systems).map((kind) => kind.elements.length));

/** Each kind by what the air passes in it, in the order of the air. */
export function Kinds({
  chosen,
  choose,
  wrong,
}: {
  chosen: string;
  choose: (kind: string) => void;
  wrong: string;
}) {
  return (
    <fieldset>
      <legend className="mb-2 font-semibold text-lg">What is it? The air goes from left to right.</legend>
      <div className="grid gap-3 wide:grid-cols-2">
        {Object.entries(tables.systems).map(([key, kind]) => (
          <button
            key={key}
            type="button"
            aria-pressed={chosen === key}
            onClick={() => choose(key)}
            className={`panel p-3 text-left ${chosen === key ? "border-primary border-2" : "hover:bg-base-200"}`}
          >
            <span className="font-semibold">{kind.name}</span>
            <svg
              viewBox={`0 0 ${MOST * WIDE} 78`}
              className="mt-1 h-20 w-full"
              preserveAspectRatio="xMinYMid meet"
              aria-hidden="true"
            >
              <rect
                x="0"
                y="14"
                width={kind.elements.length * WIDE}
                height="36"
                className="fill-base-200 stroke-base-300"
              />
              {kind.elements.map((element, index) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: the order is the air's, and never changes
                <g key={index} transform={`translate(${index * WIDE + WIDE / 2} 32)`}>
                  <ElementSign kind={element} height={36} tinted={false} />
                  <text y="36" textAnchor="middle" fontSize="14" className="fill-base-content">
                    {NAMED[element] ?? element}
                  </text>
                </g>
              ))}
            </svg>
          </button>
        ))}
      </div>
      {wrong && (
        <p role="alert" data-wrong>
          {wrong}
        </p>
      )}
    </fieldset>
  );
}

function PlateInput({
  field,
  value,
  onChange,
  wrong,
}: {
  field: PlateField;
  value: string;
  onChange: (text: string) => void;
  wrong: string;
}) {
  const gives =
    !field.yes_no && !value && field.gives ? <p className="mt-1 text-sm quiet">{field.gives}</p> : null;
  if (field.yes_no) {
    return (
      <div>
        <Tick value={(value || field.yes_no) === "yes"} onChange={(yes) => onChange(yes ? "yes" : "no")}>
          {field.label}
        </Tick>
        {gives}
      </div>
    );
  }
  if (field.choices) {
    return (
      <div>
        <SelectField
          label={field.label}
          options={Object.entries(field.choices).map(([key, name]) => ({ key, name }))}
          value={value}
          onChange={onChange}
          empty="Not known"
          wrong={wrong}
        />
        {gives}
      </div>
    );
  }
  return (
    <div>
      {field.kind ? (
        <NumberField label={field.label} kind={field.kind} value={value} onChange={onChange} wrong={wrong} />
      ) : (
        <TextField label={field.label} value={value} onChange={onChange} most={120} wrong={wrong} />
      )}
      {gives}
    </div>
  );
}
