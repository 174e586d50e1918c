import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, ask } from "../../api/client";
import { fromEither } from "../../core/core";
import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { FileButton, NumberField } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTyped, inWords, number, say, typedSi } from "../../units/units";
import type { Page } from "./useEconomizer";

const USUAL_SENSOR_K = 0.6;

/** Four ways to decide when outdoor air is good enough, with the hours a year that a sensor's error costs. */
export function YearHours({ page }: { page: Page }) {
  const { page: visit, question } = useVisit();
  const { system } = useUnits();
  const [error, setError] = useState(asTyped(USUAL_SENSOR_K, "temperature_difference", system));
  const [weather, setWeather] = useState("");
  const id = String(visit.id);
  const sensor = typedSi(error, "temperature_difference", system);
  const asked = useMutation({
    mutationFn: (given: { weather: string; sensor_k: number }) =>
      fromEither("year_hours", { ...question, question: { ...given, sensor_rh: 0.05 } }, () =>
        ask(
          api.POST("/api/v1/visits/{visit_id}/year-hours", {
            params: { path: { visit_id: id } },
            body: { ...given, sensor_rh: 0.05 },
          }),
        ),
      ),
  });
  const { mutate } = asked;
  useEffect(() => {
    if (sensor !== undefined && sensor >= 0) mutate({ weather, sensor_k: sensor });
  }, [mutate, weather, sensor]);
  const hours = new Map((asked.data?.methods ?? []).map((each) => [each.method as string, each]));
  const planned = page.planned.changeover;
  const most = Math.max(1, ...[...hours.values()].map((each) => each.free));
  return (
    <section aria-labelledby="changeover">
      <h2 id="changeover" className="font-semibold text-lg">
        Changeover: when is outdoor air good enough?
      </h2>
      <p className="text-sm quiet">
        {page.climate_zone
          ? `Climate zone ${page.climate_zone}. `
          : "Set the site's climate zone in the office. "}
        {page.method_reason && say(page.method_reason, system)} Local code rules.
      </p>
      <ul className="mt-2 grid gap-2 xl:grid-cols-2">
        {page.methods.map((method) => {
          const found = hours.get(method.key);
          return (
            <li
              key={method.key}
              className={`panel p-3 ${planned === method.key ? "border-2 border-primary" : ""} ${method.allowed ? "" : "bg-base-200/60"}`}
            >
              <p className="flex flex-wrap items-baseline gap-x-2">
                <span className="inline-block font-semibold first-letter:uppercase">{method.name}</span>
                {method.limit && (
                  <span className="reading">
                    up to {inWords(method.limit.value, method.limit.kind, system)}
                  </span>
                )}
                {planned === method.key && <Tag>in the plan</Tag>}
                {method.default && <Tag>usual here</Tag>}
                {!method.allowed && <Tag>not in this zone</Tag>}
              </p>
              <p className="text-sm">{method.reason}</p>
              {found && (
                <div className="mt-2">
                  <p className="flex items-baseline gap-x-2">
                    <span className="reading font-semibold text-[28px] leading-8">
                      {number(found.free, 0)}
                    </span>
                    <span>h a year free cooling</span>
                  </p>
                  <div className="mt-1 flex h-3 overflow-hidden rounded-sm bg-base-200" aria-hidden="true">
                    <span
                      className="bg-primary"
                      style={{ width: `${((found.free - found.lost) / most) * 85}%` }}
                    />
                    <span className="hatched" style={{ width: `${(found.lost / most) * 85}%` }} />
                    <span className="bg-accent" style={{ width: `${(found.mis_spent / most) * 85}%` }} />
                  </div>
                  <p className="mt-1 text-sm">
                    A sensor this far off loses up to{" "}
                    <span className="reading">{number(found.lost, 0)} h</span>, or lets in{" "}
                    <span className="reading">{number(found.mis_spent, 0)} h</span> of air that costs more
                    than it saves.
                  </p>
                </div>
              )}
            </li>
          );
        })}
      </ul>
      <div className="mt-2 grid items-end gap-3 sm:grid-cols-[12rem_auto_1fr]">
        <NumberField
          label="Sensor's error ±"
          kind="temperature_difference"
          value={error}
          onChange={setError}
          wrong={sensor === undefined || sensor < 0 ? "A number of zero or more." : ""}
        />
        <FileButton types={[".epw", "text/plain"]} onChosen={async (file) => setWeather(await file.text())}>
          Weather file (EPW)
        </FileButton>
        <p className="text-sm quiet">
          {asked.data
            ? `${asked.data.weather}: ${number(asked.data.needed, 0)} h with a call for cooling in the day.`
            : "Counting the year."}{" "}
          {asked.data &&
            asked.data.missing > 0 &&
            `${number(asked.data.missing, 0)} h of the file have no value and are not counted. `}
          Humidity sensor ±5 %.{" "}
          {asked.data?.made_up && (
            <a className="link" href={`/api/v1/visits/${id}/weather.epw`} download>
              Take this year as a file
            </a>
          )}
        </p>
      </div>
      <Trouble error={asked.error} />
    </section>
  );
}

function Tag({ children }: { children: string }) {
  return <span className="rounded bg-base-200 px-1.5 text-sm">{children}</span>;
}
