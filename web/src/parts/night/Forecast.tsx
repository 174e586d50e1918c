import { useMutation } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { calculate } from "../../core/calculate";
import { Trouble } from "../../logbook/controller";
import { FileButton, NumberField, TextField } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTyped, type Quantity, typedSi } from "../../units/units";

const KIND = "temperature";
const FIELDS = [
  { name: "high_c", label: "Tomorrow's high", begins: 34 },
  { name: "low_c", label: "Tonight's low", begins: 17 },
  { name: "room_c", label: "The rooms at 8 in the evening" },
  { name: "dew_point_c", label: "Night's dew point (optional)" },
] as const;
type Name = (typeof FIELDS)[number]["name"];

interface Hourly {
  begins: string;
  outdoor_c: number[];
  dew_points_c: number[];
  high_c: Quantity;
  low_c: Quantity;
}

export interface Given {
  high_c: number;
  low_c: number;
  room_c: number;
  dew_point_c?: number;
  outdoor_c?: number[];
  dew_points_c?: number[];
}

export type Forecast = ReturnType<typeof useForecast>;

/** The forecast as it is typed, or read from a file hour by hour; `given` once it is whole. */
export function useForecast(room: number) {
  const { system } = useUnits();
  const [texts, setTexts] = useState<Record<Name, string>>(() => ({
    high_c: asTyped(34, KIND, system),
    low_c: asTyped(17, KIND, system),
    room_c: asTyped(room, KIND, system),
    dew_point_c: "",
  }));
  const [typed, setTyped] = useState(false);
  const [hourly, setHourly] = useState<Hourly | undefined>();
  const wrong = useMemo(() => wrongIn(texts, (text) => typedSi(text, KIND, system)), [texts, system]);
  const given = useMemo((): Given | undefined => {
    if (Object.values(wrong).some(Boolean)) return undefined;
    const of = (name: Name) => typedSi(texts[name], KIND, system);
    const [high, low, rooms, dew] = [of("high_c"), of("low_c"), of("room_c"), of("dew_point_c")];
    if (high === undefined || low === undefined || rooms === undefined) return undefined;
    return {
      high_c: hourly ? hourly.high_c.value : high,
      low_c: hourly ? hourly.low_c.value : low,
      room_c: rooms,
      ...(dew === undefined ? {} : { dew_point_c: dew }),
      ...(hourly ? { outdoor_c: hourly.outdoor_c, dew_points_c: hourly.dew_points_c } : {}),
    };
  }, [texts, wrong, hourly, system]);
  return {
    texts,
    wrong,
    given,
    hourly,
    example: !typed && !hourly,
    put: (name: Name, text: string) => {
      setTyped(true);
      setTexts({ ...texts, [name]: text });
    },
    take: (read: Hourly | undefined) => setHourly(read),
  };
}

/** By field: what is wrong with it. */
export function wrongIn(
  texts: Record<Name, string>,
  read: (text: string) => number | undefined,
): Record<Name, string> {
  const missing = (name: Name) => (read(texts[name]) === undefined ? "A number, please." : "");
  const [high, low] = [read(texts.high_c), read(texts.low_c)];
  const above = high !== undefined && low !== undefined && low > high ? "Not above the day's high." : "";
  return {
    high_c: missing("high_c"),
    low_c: missing("low_c") || above,
    room_c: missing("room_c"),
    dew_point_c: texts.dew_point_c.trim() ? missing("dew_point_c") : "",
  };
}

/** High, low and dew point; or a file that has them by the hour. */
export function ForecastForm({ forecast }: { forecast: Forecast }) {
  const { hourly } = forecast;
  const shown = FIELDS.filter(({ name }) => !hourly || name === "room_c");
  return (
    <section aria-labelledby="forecast" className="space-y-2">
      <h2 id="forecast" className="font-semibold text-lg">
        Forecast
      </h2>
      {forecast.example && <p className="quiet">An example: type tonight's own.</p>}
      {hourly && <p>By the hour, from the evening of {hourly.begins}.</p>}
      <div className="grid grid-cols-2 items-end gap-2 sm:grid-cols-4">
        {shown.map(({ name, label }) => (
          <NumberField
            key={name}
            label={label}
            kind={KIND}
            value={forecast.texts[name]}
            onChange={(text) => forecast.put(name, text)}
            wrong={forecast.wrong[name]}
          />
        ))}
      </div>
      <FromFile forecast={forecast} />
    </section>
  );
}

/** A table hour by hour, or a day of a weather year. */
function FromFile({ forecast }: { forecast: Forecast }) {
  const [year, setYear] = useState<string | undefined>();
  const [date, setDate] = useState("");
  const read = useMutation({
    networkMode: "always",
    mutationFn: (given: { text: string; month?: number; day?: number }) =>
      calculate<Hourly>("ventilation.read_forecast", given),
    onSuccess: (hourly) => {
      setYear(undefined);
      forecast.take(hourly);
    },
  });
  const [, month, day] = date.split("-").map(Number);
  return (
    <div className="space-y-2 print:hidden">
      <div className="flex flex-wrap items-end gap-2">
        <FileButton
          types={[".csv", ".epw", "text/csv", "text/plain"]}
          onChosen={(file) =>
            void file.text().then((text) => {
              if (/^\s*LOCATION/i.test(text)) setYear(text);
              else read.mutate({ text });
            })
          }
        >
          By the hour (CSV or EPW)
        </FileButton>
        {forecast.hourly && (
          <button type="button" className="btn touch" onClick={() => forecast.take(undefined)}>
            High and low again
          </button>
        )}
      </div>
      {year !== undefined && (
        <div className="flex flex-wrap items-end gap-2">
          <TextField label="Which evening of that year" type="date" value={date} onChange={setDate} />
          <button
            type="button"
            className="btn btn-primary touch"
            disabled={!month || !day}
            onClick={() => read.mutate({ text: year, month: month ?? 1, day: day ?? 1 })}
          >
            Take this evening
          </button>
        </div>
      )}
      <Trouble error={read.error} />
    </div>
  );
}
