import { useState } from "react";
import { useVisit } from "../../logbook/context";
import { Figure } from "../../shell/Figure";
import { Choices, NumberField } from "../../shell/fields";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, say, typedSi } from "../../units/units";
import { PortChart } from "./PortChart";
import { type FreshAirPage, STREAMS, type Stream, streamsOf, type Ventilator } from "./useFreshAir";

interface Props {
  fresh: FreshAirPage;
  ventilator: Ventilator;
  /** Before anything was changed, or after. */
  phase?: "as_found" | "as_left";
  title?: string;
  /** Of a simulated ventilator: the drop across a stream's ports [Pa]. */
  reading?: ((stream: Stream) => Promise<number | undefined>) | undefined;
}

/** What the ventilator moves, by its ports or a hood; both streams compared where it has two. */
export function Flows({ fresh, ventilator, phase = "as_found", title = "Measured flow", reading }: Props) {
  const { mayWrite } = useVisit();
  const { system } = useUnits();
  const streams = streamsOf(ventilator.kind);
  return (
    <section aria-labelledby="flows" className="space-y-3">
      <h2 id="flows" className="font-semibold text-lg">
        {title}
      </h2>
      <div className={`grid gap-3 ${streams.length > 1 ? "wide:grid-cols-2" : ""}`}>
        {(fresh.streams ?? []).map((line) => {
          const chart =
            ventilator.kind === "balanced" && line.stream === "stale"
              ? ventilator.stale_chart
              : ventilator.chart;
          return (
            <div key={line.stream} className="panel space-y-3 p-3">
              <div className="space-y-2">
                <p className="font-semibold">{line.name}</p>
                {line.flow && <Figure quantity={line.flow} />}
                <p>{say(line.words, system)}</p>
                {mayWrite && (
                  <FlowForm
                    stream={line.stream}
                    charted={(chart ?? []).length > 1}
                    phase={phase}
                    reading={reading}
                  />
                )}
              </div>
              {(chart ?? []).length > 1 && <PortChart chart={chart ?? []} line={line} />}
            </div>
          );
        })}
      </div>
      {fresh.balance_words && (
        <p className="flex items-center gap-2">
          <VerdictMark mark={(fresh.balance_mark ?? "not_measured") as MarkName} size={18} />
          {say(fresh.balance_words, system)}
        </p>
      )}
    </section>
  );
}

const WAYS = { ports: "Ports", hood: "Hood" };

function FlowForm({
  stream,
  charted,
  phase,
  reading,
}: {
  stream: Stream;
  charted: boolean;
  phase: "as_found" | "as_left";
  reading: Props["reading"];
}) {
  const { record } = useVisit();
  const { system } = useUnits();
  const [way, setWay] = useState<keyof typeof WAYS>(charted ? "ports" : "hood");
  const [text, setText] = useState("");
  const [doubt, setDoubt] = useState("");
  const [tried, setTried] = useState(false);
  const kind = way === "ports" ? "pressure" : "airflow";
  const value = typedSi(text, kind, system);
  const width = doubt.trim() ? typedSi(doubt, kind, system) : undefined;
  const wrong = value === undefined || value <= 0 ? "A number above zero." : "";
  const wrongDoubt = doubt.trim() && (width === undefined || width < 0) ? "A number of zero or more." : "";
  const keep = async () => {
    setTried(true);
    if (wrong || wrongDoubt || value === undefined) return;
    await record(
      "ventilator_flow",
      way === "ports"
        ? { stream, way, port_pa: value, ...(width === undefined ? {} : { plus_minus_pa: width }) }
        : { stream, way, airflow_m3s: value, ...(width === undefined ? {} : { plus_minus_m3s: width }) },
      { phase },
    );
    setText("");
    setTried(false);
  };
  return (
    <form
      className="space-y-2"
      noValidate
      aria-label={STREAMS[stream]}
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <Choices label="Measured by" options={WAYS} value={way} onChange={setWay} />
      {way === "ports" && !charted && <p>Type the model's port chart first, under The ventilator.</p>}
      <div className="grid grid-cols-2 gap-2">
        <NumberField
          label={way === "ports" ? "Drop across the ports" : "The hood shows"}
          kind={kind}
          value={text}
          onChange={setText}
          wrong={tried ? wrong : ""}
        />
        <NumberField
          label="Meter's error ± (optional)"
          kind={kind}
          value={doubt}
          onChange={setDoubt}
          wrong={tried ? wrongDoubt : ""}
        />
      </div>
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="btn btn-primary touch text-base">
          Note this flow
        </button>
        {reading && way === "ports" && (
          <button
            type="button"
            className="btn touch"
            onClick={() =>
              void reading(stream).then((drop) =>
                setText(drop === undefined ? "" : asTypedExactly(drop, "pressure", system)),
              )
            }
          >
            Read its ports, simulated
          </button>
        )}
      </div>
    </form>
  );
}
