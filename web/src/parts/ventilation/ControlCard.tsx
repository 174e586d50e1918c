import { CalendarPlus, Printer } from "lucide-react";
import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { NumberField, TextField, Tick } from "../../shell/fields";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { WideTable } from "../../shell/WideTable";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, inWords, number, typedSi } from "../../units/units";
import type { Control, FreshAirPage, Stage } from "./useFreshAir";
import { enterSettings, useAskedVentilator, useVentilator } from "./ventilator";

const STAGES: Record<Stage, string> = { found: "Found", planned: "Planned", left: "Left" };

const ROWS = [
  { name: "minutes_per_hour", label: "Runs in an hour", kind: "minutes" },
  { name: "low_c", label: "Off when outdoors is colder than", kind: "temperature" },
  { name: "high_c", label: "Off when outdoors is hotter than", kind: "temperature" },
  { name: "dew_point_c", label: "Off over an outdoor dew point of", kind: "temperature" },
  { name: "indoor_rh", label: "Off over an indoor humidity of", kind: "relative_humidity" },
  { name: "boost_min", label: "Boost, then back by itself", kind: "minutes" },
  { name: "interlock", label: "The system's blower runs with it", kind: "yes" },
  { name: "filter_months", label: "Look at the filters every", kind: "months" },
] as const;

/** Every value of the control: as it was found, as planned, as left. The order in which a control is gone through. */
export function ControlCard({ fresh }: { fresh: FreshAirPage }) {
  const { page, record, mayWrite } = useVisit();
  const { system } = useUnits();
  const [open, setOpen] = useState<Stage | undefined>();
  const columns = fresh.controls ?? [];
  const of = (stage: Stage) => columns.find((each) => each.stage === stage);
  const planned = of("planned")?.control ?? fresh.proposed ?? undefined;
  const shown = (control: Control | null | undefined, row: (typeof ROWS)[number]): string => {
    if (!control) return "";
    if (row.kind === "yes") return control.interlock ? "yes" : "no";
    const value = control[row.name as keyof Control];
    if (value == null) return "–";
    if (row.kind === "minutes") return `${number(Number(value), Number(value) % 1 ? 1 : 0)} min`;
    if (row.kind === "months") return `${value} months`;
    return inWords(Number(value), row.kind, system);
  };
  const begin = (stage: Stage): Control =>
    of(stage)?.control ?? (stage === "found" ? undefined : (planned ?? of("found")?.control)) ?? {};
  return (
    <section aria-labelledby="control" className="space-y-3">
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h2 id="control" className="font-semibold text-lg">
          Control settings
        </h2>
        <div className="flex flex-wrap gap-2 print:hidden">
          <button type="button" className="btn touch" onClick={() => window.print()}>
            <Printer size={18} aria-hidden="true" /> Print the card
          </button>
          <a className="btn touch" href={`/api/v1/visits/${page.id}/filters.ics`} download>
            <CalendarPlus size={18} aria-hidden="true" /> Filters (iCalendar)
          </a>
        </div>
      </div>
      <WideTable label="Control settings">
        <table className="table">
          <thead>
            <tr>
              <th scope="col">At the control</th>
              {columns.map((each) => (
                <th key={each.stage} scope="col">
                  {STAGES[each.stage]}
                  {each.stage === "planned" && !each.control && fresh.proposed && (
                    <span className="quiet font-normal"> (proposed)</span>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {ROWS.map((row) => (
              <tr key={row.name}>
                <th scope="row" className="font-normal">
                  {row.label}
                </th>
                {columns.map((each) => (
                  <td key={each.stage} className="reading">
                    {shown(each.stage === "planned" ? planned : each.control, row)}
                  </td>
                ))}
              </tr>
            ))}
            <tr>
              <th scope="row">Gives, of what is needed</th>
              {columns.map((each) => (
                <td key={each.stage} className="reading">
                  {each.share && (
                    <span className="inline-flex items-center gap-1.5">
                      <VerdictMark mark={(each.mark ?? "not_measured") as MarkName} size={16} />
                      {inWords(each.share.value, "share", system)}
                    </span>
                  )}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </WideTable>
      {mayWrite && (
        <div className="flex flex-wrap gap-2 print:hidden">
          {(Object.keys(STAGES) as Stage[]).map((stage) => (
            <button
              key={stage}
              type="button"
              aria-expanded={open === stage}
              className={`btn touch ${stage === "found" && !of("found")?.control ? "btn-primary" : ""}`}
              onClick={() => setOpen(open === stage ? undefined : stage)}
            >
              {stage === "found"
                ? "Note what it was found at"
                : stage === "planned"
                  ? "Plan"
                  : "Note what it is left at"}
            </button>
          ))}
          <AtControl fresh={fresh} planned={planned} />
        </div>
      )}
      {open && mayWrite && (
        <ControlForm
          key={open}
          stage={open}
          from={begin(open)}
          keep={async (control) => {
            const entry = of(open)?.entry;
            await record(
              "ventilator_control",
              { stage: open, control },
              {
                phase: open === "left" ? "as_left" : "as_found",
                ...(entry ? { replaces: entry } : {}),
              },
            );
            setOpen(undefined);
          }}
        />
      )}
    </section>
  );
}

/** A connected control is read, and set to what is planned; both stand in the card then. */
function AtControl({ fresh, planned }: { fresh: FreshAirPage; planned: Control | undefined }) {
  const { record } = useVisit();
  const { data: device } = useVentilator();
  const enter = useAskedVentilator(enterSettings);
  const of = (stage: Stage) => (fresh.controls ?? []).find((each) => each.stage === stage);
  if (!fresh.known.ventilator?.control_name || !device?.connected || !device.settings) return null;
  const note = (stage: Stage, control: Control) => {
    const entry = of(stage)?.entry;
    return record(
      "ventilator_control",
      { stage, control },
      { phase: stage === "left" ? "as_left" : "as_found", ...(entry ? { replaces: entry } : {}) },
    );
  };
  const left = Boolean(of("left")?.control);
  return (
    <>
      <button
        type="button"
        className="btn touch"
        onClick={() => void note(left ? "left" : "found", device.settings as Control)}
      >
        Read the control
      </button>
      {planned && (
        <button
          type="button"
          className="btn touch"
          disabled={enter.isPending}
          onClick={() =>
            void enter
              .mutateAsync(planned)
              .then((now) => note("left", now.settings as Control))
              .catch(() => undefined)
          }
        >
          Enter the plan at the control
        </button>
      )}
      <Trouble error={enter.error} />
    </>
  );
}

const LIMITS: Record<string, [number, number]> = {
  minutes_per_hour: [0, 60],
  boost_min: [1, 1440],
  filter_months: [1, 24],
  low_c: [-50, 60],
  high_c: [-50, 60],
  dew_point_c: [-10, 30],
  indoor_rh: [0.2, 0.9],
};

function ControlForm({
  stage,
  from,
  keep,
}: {
  stage: Stage;
  from: Control;
  keep: (control: Control) => Promise<void>;
}) {
  const { system } = useUnits();
  const plain = (kind: string) => kind === "minutes" || kind === "months";
  const [texts, setTexts] = useState<Record<string, string>>(() =>
    Object.fromEntries(
      ROWS.map((row) => {
        const value = from[row.name as keyof Control];
        if (value == null || typeof value === "boolean") return [row.name, ""];
        return [row.name, plain(row.kind) ? String(value) : asTypedExactly(Number(value), row.kind, system)];
      }),
    ),
  );
  const [interlock, setInterlock] = useState(from.interlock ?? false);
  const [tried, setTried] = useState(false);
  const typed = (row: (typeof ROWS)[number]): number | undefined => {
    const text = (texts[row.name] ?? "").trim();
    if (!text) return undefined;
    return plain(row.kind) ? Number(text.replace(",", ".")) : typedSi(text, row.kind, system);
  };
  const wrong = (row: (typeof ROWS)[number]): string => {
    if (row.kind === "yes" || !(texts[row.name] ?? "").trim()) return "";
    const value = typed(row);
    const [low, high] = LIMITS[row.name] ?? [0, 0];
    if (value === undefined || Number.isNaN(value)) return "A number, please.";
    if (value < low || value > high) return "No control goes that far.";
    if (row.kind === "months" && value % 1) return "Whole months.";
    const high_c = typed(ROWS[2]);
    if (row.name === "low_c" && high_c !== undefined && value >= high_c)
      return "The low limit must lie below the high one.";
    return "";
  };
  const send = async () => {
    setTried(true);
    if (ROWS.some((row) => wrong(row))) return;
    const numbers = ROWS.filter((row) => row.kind !== "yes").map((row) => [row.name, typed(row)] as const);
    await keep({ interlock, ...Object.fromEntries(numbers.filter(([, value]) => value !== undefined)) });
  };
  return (
    <form
      aria-label={`Control, ${STAGES[stage].toLowerCase()}`}
      className="panel grid gap-3 p-4 sm:grid-cols-2"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void send();
      }}
    >
      {ROWS.map((row) => {
        if (row.kind === "yes")
          return (
            <Tick key={row.name} value={interlock} onChange={setInterlock}>
              {row.label}
            </Tick>
          );
        const given = {
          value: texts[row.name] ?? "",
          onChange: (text: string) => setTexts({ ...texts, [row.name]: text }),
          wrong: tried ? wrong(row) : "",
        };
        return plain(row.kind) ? (
          <TextField
            key={row.name}
            label={`${row.label}, ${row.kind === "months" ? "months" : "min"}`}
            mode="decimal"
            {...given}
          />
        ) : (
          <NumberField key={row.name} label={row.label} kind={row.kind} {...given} />
        );
      })}
      <p className="quiet sm:col-span-2">Leave empty what it does not have.</p>
      <button type="submit" className="btn btn-primary touch text-base sm:justify-self-start">
        Keep
      </button>
    </form>
  );
}
