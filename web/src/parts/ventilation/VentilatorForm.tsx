import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormChoices, FormNumber, FormText, NumberField, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, typedSi } from "../../units/units";
import { type FreshAirPage, STREAMS, streamsOf, type Ventilator } from "./useFreshAir";

const KINDS = { exhaust: "Blows out", supply: "Blows in", balanced: "Both" };

type Point = { port: string; flow: string };
type Kind = Ventilator["kind"];

const FIELDS = [
  { name: "fan_power_w", label: "Its fans draw", kind: "electric_power", most: 5000 },
  { name: "recovered_share", label: "Heat it recovers", kind: "share", most: 0.95 },
  {
    name: "interlock_w",
    label: "The system's blower draws, where it runs with it",
    kind: "electric_power",
    most: 5000,
  },
] as const;

/** The ventilator and its port chart, typed once a model. */
export function VentilatorForm({ fresh }: { fresh: FreshAirPage }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const known = fresh.known.ventilator;
  const points = (chart: Ventilator["chart"]): Point[] =>
    (chart ?? []).map((point) => ({
      port: asTypedExactly(point.port_pa, "pressure", system),
      flow: asTypedExactly(point.airflow_m3s, "airflow", system),
    }));
  const { control, handleSubmit, watch } = useForm<Record<string, string>>({
    defaultValues: {
      kind: known?.kind ?? "",
      model: known?.model ?? "",
      step_min: known ? String(known.step_min ?? 5) : "5",
      cycle_h: known ? String(known.cycle_h ?? 1) : "1",
      damper: known?.damper === false ? "no" : "yes",
      control_name: known?.control_name ?? "",
      ...Object.fromEntries(
        FIELDS.map(({ name, kind }) => [name, asTypedExactly(known?.[name], kind, system)]),
      ),
    },
  });
  const [charts, setCharts] = useState([points(known?.chart), points(known?.stale_chart)]);
  const [wrong, setWrong] = useState("");
  const kind = watch("kind") as Kind | "";
  if (!mayWrite) return null;
  const streams = kind ? streamsOf(kind) : [];
  const send = handleSubmit(async (form) => {
    const typed = charts.slice(0, streams.length).map((chart) =>
      chart
        .filter((point) => point.port.trim() || point.flow.trim())
        .map((point) => ({
          port_pa: typedSi(point.port, "pressure", system),
          airflow_m3s: typedSi(point.flow, "airflow", system),
        })),
    );
    const broken = typed.map(wrongIn).find(Boolean);
    setWrong(broken ?? "");
    if (broken) return;
    const numbers = FIELDS.map(
      ({ name, kind: of }) => [name, typedSi(form[name] ?? "", of, system)] as const,
    );
    const [chart, stale] = typed as { port_pa: number; airflow_m3s: number }[][];
    await record(
      "ventilator",
      {
        kind: form.kind as Kind,
        model: form.model?.trim() ?? "",
        chart: chart ?? [],
        stale_chart: stale ?? [],
        step_min: Number(form.step_min),
        cycle_h: Number(form.cycle_h),
        damper: form.damper !== "no",
        control_name: form.control_name?.trim() ?? "",
        ...Object.fromEntries(numbers.filter(([, value]) => value !== undefined)),
      },
      { phase: "as_found", ...(fresh.ventilator_entry ? { replaces: fresh.ventilator_entry } : {}) },
    );
  });
  return (
    <details className="panel px-4" open={Boolean(fresh.known.dwelling) && !known}>
      <summary className="touch flex cursor-pointer items-center font-semibold">The ventilator</summary>
      <form onSubmit={send} noValidate className="space-y-3 pb-4">
        <FormChoices
          control={control}
          name="kind"
          label="What it does"
          options={KINDS}
          rules={{ validate: (text) => text !== "" || "Does it blow in, out, or both?" }}
        />
        <div className="grid gap-3 sm:grid-cols-2">
          <FormText control={control} name="model" label="Model (optional)" most={80} />
          <FormText
            control={control}
            name="step_min"
            label="Its control goes in steps of, min"
            mode="decimal"
            rules={between(0.1, 30)}
          />
          <FormText
            control={control}
            name="cycle_h"
            label="From one start to the next, h"
            mode="decimal"
            rules={between(0.25, 24)}
          />
          {FIELDS.map(({ name, label, kind: of, most }) => (
            <FormNumber
              key={name}
              control={control}
              name={name}
              label={`${label} (optional)`}
              kind={of}
              rules={numberRule(of, system, (si) => (si >= 0 && si <= most) || "That can't be.", {
                optional: true,
              })}
            />
          ))}
        </div>
        <FormChoices
          control={control}
          name="damper"
          label="A damper shuts it off from outdoors"
          options={{ yes: "Yes", no: "No" }}
        />
        <FormText
          control={control}
          name="control_name"
          label="Its control's name at the gateway (optional)"
          most={80}
        />
        {streams.map((stream, index) => (
          <ChartPoints
            key={stream}
            label={streams.length > 1 ? `Port chart: ${STREAMS[stream].toLowerCase()}` : "Port chart"}
            points={charts[index] ?? []}
            change={(next) => setCharts(charts.map((chart, at) => (at === index ? next : chart)))}
          />
        ))}
        {wrong && (
          <p role="alert" className="text-error">
            {wrong}
          </p>
        )}
        <button type="submit" className="btn btn-primary touch text-base">
          Keep the ventilator
        </button>
      </form>
    </details>
  );
}

const between = (low: number, high: number) => ({
  validate: (text: string) => {
    const given = Number(text.replace(",", "."));
    return (text.trim() !== "" && given >= low && given <= high) || `A number from ${low} to ${high}.`;
  },
});

/** What is wrong with a chart, in a sentence; the same rules as the core's. */
export function wrongIn(chart: { port_pa?: number | undefined; airflow_m3s?: number | undefined }[]): string {
  if (chart.length === 0) return "";
  if (chart.some((point) => point.port_pa === undefined || point.airflow_m3s === undefined))
    return "Each point of the chart needs a drop and a flow.";
  if (chart.length === 1) return "A chart needs two points or more.";
  const ordered = [...chart].sort((one, other) => (one.port_pa ?? 0) - (other.port_pa ?? 0));
  for (let at = 1; at < ordered.length; at += 1) {
    const [one, other] = [ordered[at - 1], ordered[at]];
    if (one?.port_pa === other?.port_pa) return "The chart has the same drop twice.";
    if ((other?.airflow_m3s ?? 0) <= (one?.airflow_m3s ?? 0))
      return "A larger drop across the ports is a larger flow: check the points of the chart.";
  }
  return "";
}

function ChartPoints({
  label,
  points,
  change,
}: {
  label: string;
  points: Point[];
  change: (next: Point[]) => void;
}) {
  const shown = points.length > 0 ? points : [{ port: "", flow: "" }];
  const put = (index: number, part: Partial<Point>) =>
    change(shown.map((point, at) => (at === index ? { ...point, ...part } : point)));
  return (
    <fieldset className="space-y-2">
      <legend className="font-semibold">{label}</legend>
      <p className="quiet">
        From the maker's sheet or the sticker inside the door: drop across the ports, and flow.
      </p>
      {shown.map((point, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: points have no name but their place
        <div key={index} className="grid grid-cols-[1fr_1fr_auto] items-end gap-2">
          <NumberField
            label="Drop"
            kind="pressure"
            value={point.port}
            onChange={(port) => put(index, { port })}
          />
          <NumberField
            label="Flow"
            kind="airflow"
            value={point.flow}
            onChange={(flow) => put(index, { flow })}
          />
          <button
            type="button"
            className="btn btn-ghost touch"
            aria-label={`Take point ${index + 1} out`}
            onClick={() => change(shown.filter((_, at) => at !== index))}
          >
            <Trash2 size={18} aria-hidden="true" />
          </button>
        </div>
      ))}
      <button type="button" className="btn touch" onClick={() => change([...shown, { port: "", flow: "" }])}>
        <Plus size={18} aria-hidden="true" /> One more point
      </button>
    </fieldset>
  );
}
