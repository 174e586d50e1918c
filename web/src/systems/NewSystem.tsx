import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useEffect, useState } from "react";
import { Unanswered } from "../api/client";
import { dayQuery, queries, systemQuery } from "../api/queries";
import { useCore } from "../core/core";
import { TopBar } from "../frame/TopBar";
import { beginHere } from "../logbook/begin";
import { ElementSign } from "../ribbon/signs";
import { NumberField, type Option, SelectField, TextField, Tick } from "../shell/fields";
import type { PlateField } from "../units/tables";
import { tables } from "../units/tables.gen";
import { useUnits } from "../units/UnitSystem";
import { asTyped, say, typedSi } from "../units/units";
import { makeHere, type NewSite } from "./making";

type Values = Record<string, string>;

const NEW_SITE = "";

/** A unit that nobody has written down yet: its site, what it is, what its nameplate says. A kind and a name are enough. */
export function NewSystem() {
  const { system } = useUnits();
  const state = useCore();
  const go = useNavigate();
  const { data: day } = useQuery(dayQuery);
  const [site, setSite] = useState(NEW_SITE);
  const [where, setWhere] = useState<Values>({
    name: "",
    elevation: "",
    barometer: "",
    zone: "",
    location: "",
  });
  const [kind, setKind] = useState("");
  const [name, setName] = useState("");
  const [plate, setPlate] = useState<Values>({});
  const [wrong, setWrong] = useState<Values>({});
  const [busy, setBusy] = useState(false);

  const sites = new Map((day?.systems ?? []).map((each) => [String(each.site_id), each.site]));
  const sisters = (day?.systems ?? []).filter((each) => each.kind === kind);
  const fields = tables.systems[kind]?.plate ?? [];
  const put = (key: string) => (text: string) => setWhere((before) => ({ ...before, [key]: text }));

  const copy = async (id: string) => {
    const page = await queries.fetchQuery({ ...systemQuery(id), staleTime: 60_000 }).catch(() => undefined);
    const from = (page?.head as { system?: { nameplate?: Record<string, unknown> } } | undefined)?.system
      ?.nameplate;
    if (!from) return setWrong({ copy: "This nameplate is not on this device." });
    const { serial: _, ...rest } = from;
    setPlate(
      Object.fromEntries(
        fields.flatMap((field): [string, string][] => {
          const value = rest[field.key];
          if (value === undefined || value === null || value === "") return [];
          if (field.kind) return [[field.key, asTyped(Number(value), field.kind, system)]];
          return [[field.key, value === true ? "yes" : value === false ? "" : String(value)]];
        }),
      ),
    );
  };

  const make = async () => {
    const found: Values = {};
    const number = (text: string, of: string, key: string): number | undefined => {
      if (text.trim() === "") return undefined;
      const value = typedSi(text, of, system);
      if (value === undefined) found[key] = "This must be a number.";
      return value;
    };
    if (!kind) found.kind = "Choose what it is.";
    if (name.trim() === "") found.name = "Give it a name, as you will look for it.";
    let there: NewSite & { id?: string };
    if (site === NEW_SITE) {
      if (where.name?.trim() === "") found["site.name"] = "Give the site a name.";
      const elevation = number(where.elevation ?? "", "length", "site.elevation_m");
      const barometer = number(where.barometer ?? "", "barometric_pressure", "site.barometer_pa");
      there = {
        name: where.name?.trim() ?? "",
        elevation_m: elevation ?? 0,
        barometer_pa: barometer ?? null,
        climate_zone: where.zone ?? "",
      };
    } else {
      const near = day?.systems.find((each) => String(each.site_id) === site);
      const page =
        near &&
        (await queries
          .fetchQuery({ ...systemQuery(String(near.id)), staleTime: 60_000 })
          .catch(() => undefined));
      const known = (page?.head as { site?: NewSite } | undefined)?.site;
      if (!known)
        found.site = "What is known of this site is not on this device. Choose it again with signal.";
      there = { ...(known as NewSite), id: site };
    }
    const nameplate: Record<string, unknown> = {};
    for (const field of fields) {
      const text = plate[field.key] ?? "";
      if (text.trim() === "") continue;
      const value = field.kind
        ? number(text, field.kind, `nameplate.${field.key}`)
        : field.yes_no
          ? true
          : text.trim();
      if (value !== undefined) nameplate[field.key] = value;
    }
    setWrong(found);
    if (Object.keys(found).length > 0) return;
    setBusy(true);
    try {
      const made = await makeHere({
        site: there,
        name: name.trim(),
        kind,
        location: where.location?.trim() ?? "",
        nameplate,
      });
      const visit = crypto.randomUUID();
      await beginHere(made, visit);
      await go({ to: "/visits/$visitId", params: { visitId: visit }, search: { step: "arrive" } });
    } catch (error) {
      const refusal = error instanceof Unanswered ? error.problem?.refusals?.[0] : undefined;
      const path = (refusal?.path ?? "").replace(/^system\./, "");
      setWrong({
        [path || "all"]: refusal ? say(refusal.sentence, system) : "This did not work. Try again.",
      });
    } finally {
      setBusy(false);
    }
  };

  // Whoever taps below must see what is missing above.
  useEffect(() => {
    if (Object.keys(wrong).length === 0) return;
    const main = document.querySelector("main");
    const first = main?.querySelector("[data-wrong], [aria-invalid=true]");
    if (main && first) main.scrollTop += first.getBoundingClientRect().top - main.clientHeight / 2;
  }, [wrong]);

  const options: Option[] = [
    { key: NEW_SITE || "new", name: "A new site" },
    ...[...sites].map(([key, title]) => ({ key, name: title })),
  ];
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<span className="font-semibold">New system</span>} />
      <main className="mx-auto w-full max-w-3xl flex-1 space-y-6 overflow-y-auto p-4 pb-0" tabIndex={-1}>
        <h1 className="font-semibold text-2xl">A system that is not on the list</h1>
        <p className="quiet">
          A name and what it is are enough to begin. Leave open what you can't read: it can be added later.
        </p>
        <Kinds chosen={kind} choose={setKind} wrong={wrong.kind ?? ""} />
        <div className="grid gap-3 wide:grid-cols-2">
          <TextField
            label="Name, as you will look for it"
            value={name}
            onChange={setName}
            most={100}
            wrong={wrong.name ?? ""}
          />
          <TextField
            label="Where it stands (roof, attic, closet)"
            value={where.location ?? ""}
            onChange={put("location")}
            most={200}
          />
        </div>
        <section className="panel space-y-3 p-4" aria-labelledby="site">
          <h2 id="site" className="font-semibold text-lg">
            Site
          </h2>
          <SelectField
            label="Which site"
            options={options}
            value={site || "new"}
            onChange={(key) => setSite(key === "new" ? NEW_SITE : key)}
            wrong={wrong.site ?? ""}
          />
          {site === NEW_SITE && (
            <div className="grid gap-3 wide:grid-cols-2">
              <TextField
                label="Name of the site"
                value={where.name ?? ""}
                onChange={put("name")}
                most={100}
                wrong={wrong["site.name"] ?? ""}
              />
              <SelectField
                label="Climate zone, if known"
                options={tables.climate_zones.map((zone) => ({ key: zone, name: zone }))}
                value={where.zone ?? ""}
                onChange={put("zone")}
                empty="Not known"
              />
              <NumberField
                label="Elevation (0: sea level)"
                kind="length"
                value={where.elevation ?? ""}
                onChange={put("elevation")}
                wrong={wrong["site.elevation_m"] ?? ""}
              />
              <NumberField
                label="Or a barometer's reading there"
                kind="barometric_pressure"
                value={where.barometer ?? ""}
                onChange={put("barometer")}
                wrong={wrong["site.barometer_pa"] ?? ""}
              />
            </div>
          )}
        </section>
        {kind && (
          <section className="panel space-y-3 p-4" aria-labelledby="plate">
            <h2 id="plate" className="font-semibold text-lg">
              Nameplate
            </h2>
            {sisters.length > 0 && (
              <SelectField
                label="Same as another? Copy its nameplate, without the serial number"
                options={sisters.map((each) => ({
                  key: String(each.id),
                  name: `${each.name}, ${each.site}`,
                }))}
                value=""
                onChange={(id) => void copy(id)}
                wrong={wrong.copy ?? ""}
              />
            )}
            <div className="grid gap-3 wide:grid-cols-2">
              {fields.map((field) => (
                <PlateInput
                  key={field.key}
                  field={field}
                  value={plate[field.key] ?? ""}
                  onChange={(text) => setPlate((before) => ({ ...before, [field.key]: text }))}
                  wrong={wrong[`nameplate.${field.key}`] ?? ""}
                />
              ))}
            </div>
          </section>
        )}
        <div className="sticky bottom-0 border-base-300 border-t bg-base-100 py-3">
          {Object.keys(wrong).length > 0 && (
            <p role="alert" className="pb-2">
              {wrong.all ?? "Something above is not right yet: it says what."}
            </p>
          )}
          <button
            type="button"
            className="btn btn-primary touch w-full text-base"
            disabled={busy || state !== "ready"}
            onClick={() => void make()}
          >
            {state === "ready" ? "Make it and begin the visit" : "Getting this device ready …"}
          </button>
        </div>
      </main>
    </div>
  );
}

const NAMED: Record<string, string> = { heat_exchanger: "furnace", mixing: "mixing" };
/** Of one element in the drawing. */
const WIDE = 62;
/** All drawings at one scale. */
const MOST = Math.max(...Object.values(tables.systems).map((kind) => kind.elements.length));

/** Each kind by what the air passes in it, in the order of the air. */
function Kinds({ chosen, choose, wrong }: { chosen: string; choose: (kind: string) => void; wrong: string }) {
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
  const gives = !value && field.gives ? <p className="mt-1 text-sm quiet">{field.gives}</p> : null;
  if (field.yes_no) {
    return (
      <div>
        <Tick value={value === "yes"} onChange={(yes) => onChange(yes ? "yes" : "")}>
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
