import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Unanswered } from "../api/client";
import type { BodyOf } from "../api/entries";
import { calculate } from "../core/calculate";
import { useVisit } from "../logbook/context";
import type { Page } from "../logbook/logbook";
import { Figure } from "../shell/Figure";
import { Tick } from "../shell/fields";
import { Tabs } from "../shell/Tabs";
import { tables } from "../units/tables.gen";
import { useUnits } from "../units/UnitSystem";
import { readableOf, say, show } from "../units/units";
import { ByHand } from "./ByHand";
import { LiveValue } from "./LiveMark";
import { ToolHead } from "./Probes";
import type { LiveStream } from "./stream";
import { useLive } from "./useLive";

const QUANTITIES = ["dry_bulb", "relative_humidity"];

/** Two minutes side by side in the same air: then differences between these probes carry only their scatter. */
export function Match() {
  const { openTool, page, mayWrite } = useVisit();
  const { on, stream } = useLive();
  return (
    <div className="space-y-4">
      <ToolHead title="Match probes" close={() => openTool(undefined)} />
      <p>
        Hold the probes side by side in the same still air for two minutes: not in the sun, not in your fist.
        What they differ by is taken off every difference between them on this visit.
      </p>
      {(page.work_up.matches ?? []).toReversed().map((match) => (
        <Matched key={match.entry} match={match} />
      ))}
      {on && stream && mayWrite && <Guided stream={stream} />}
      {mayWrite && <ByHand beside={on} />}
    </div>
  );
}

interface Started {
  at: number;
  instruments: string[];
}

function Guided({ stream }: { stream: LiveStream }) {
  const { picture } = useLive();
  const { record } = useVisit();
  const { system } = useUnits();
  const [quantity, setQuantity] = useState("dry_bulb");
  const [left, setLeft] = useState<string[]>([]);
  const [started, setStarted] = useState<Started | undefined>();
  const done = useRef(false);
  const able = (picture?.channels ?? []).filter(
    (channel) => channel.quantity === quantity && channel.station === "",
  );
  const chosen = able.filter((channel) => !left.includes(channel.instrument));
  const clock = picture?.at ? new Date(picture.at).getTime() / 1000 : 0;
  const elapsed = started ? Math.min(Math.max(clock - started.at, 0), tables.match_s) : 0;
  const lost = started
    ? able.filter((channel) => started.instruments.includes(channel.instrument) && channel.lost)
    : [];

  const write = useMutation({
    mutationFn: async (given: { series: Record<string, number[]>; seconds: number }) => {
      const { probes } = await calculate<{ probes: BodyOf<"match">["probes"] }>("measuring.match_summary", {
        ...given,
        quantity,
      });
      await record("match", { quantity, seconds: given.seconds, probes }, { phase: "as_found" });
    },
  });

  useEffect(() => {
    if (!started || done.current || elapsed < tables.match_s) return;
    done.current = true;
    const series = inStep(stream, quantity, started);
    write.mutate({ series, seconds: elapsed });
    setStarted(undefined);
  }, [started, elapsed, stream, quantity, write]);

  const refusal =
    write.error instanceof Unanswered ? write.error.problem?.refusals?.[0]?.sentence : undefined;
  return (
    <section className="panel space-y-3 p-4" aria-label="Match">
      <Tabs
        label="What is matched"
        look="keys"
        items={QUANTITIES.map((each) => ({ key: each, name: readableOf(each).name }))}
        chosen={quantity}
        choose={setQuantity}
        disabled={started !== undefined}
      />
      {able.length < 2 ? (
        <p>
          Take at least two probes in the hand: under Live probes, choose “in the hand” for those that are
          assigned to a station.
        </p>
      ) : (
        <ul className="divide-y divide-base-300">
          {able.map((channel) => (
            <li key={channel.key} className="flex items-center gap-3 py-1">
              <div className="flex-1">
                <Tick
                  value={!left.includes(channel.instrument)}
                  disabled={started !== undefined}
                  onChange={(taken) =>
                    setLeft(
                      taken
                        ? left.filter((each) => each !== channel.instrument)
                        : [...left, channel.instrument],
                    )
                  }
                >
                  {channel.name}
                </Tick>
              </div>
              <span className="text-xl">
                <LiveValue channel={channel} />
              </span>
            </li>
          ))}
        </ul>
      )}
      {started ? (
        <div>
          <progress
            className="progress progress-primary h-3 w-full"
            value={elapsed}
            max={tables.match_s}
            aria-label="Time held together"
          />
          <p className="reading text-2xl">{Math.ceil(tables.match_s - elapsed)} s more</p>
          {lost.length > 0 && (
            <p role="alert">
              {lost.map((channel) => channel.name).join(", ")} is out of reach: bring it closer.
            </p>
          )}
          <button type="button" className="btn touch mt-2" onClick={() => setStarted(undefined)}>
            Stop
          </button>
        </div>
      ) : (
        <button
          type="button"
          className="btn btn-primary touch text-base"
          disabled={chosen.length < 2 || write.isPending || !picture?.connected}
          onClick={() => {
            done.current = false;
            write.reset();
            setStarted({ at: clock, instruments: chosen.map((channel) => channel.instrument) });
          }}
        >
          They are together: start
        </button>
      )}
      {write.isError && (
        <p role="alert">
          {refusal ? say(refusal, system) : "No answer from the server. Hold them together and start again."}
        </p>
      )}
    </section>
  );
}

/** Values of the chosen probes at the moments that all of them have. */
function inStep(stream: LiveStream, quantity: string, started: Started): Record<string, number[]> {
  const columns = started.instruments.map((instrument) => {
    const trend = stream.trends.get(`${instrument}/${quantity}//1`);
    const found = new Map<number, number>();
    trend?.times.forEach((time, index) => {
      const value = trend.values[index];
      if (time > started.at && value !== undefined) found.set(time, value);
    });
    return [instrument, found] as const;
  });
  const moments = [...(columns[0]?.[1].keys() ?? [])].filter((time) =>
    columns.every(([, found]) => found.has(time)),
  );
  return Object.fromEntries(
    columns.map(([instrument, found]) => [instrument, moments.map((time) => found.get(time) ?? 0)]),
  );
}

type MatchResult = NonNullable<Page["work_up"]["matches"]>[number];

function Matched({ match }: { match: MatchResult }) {
  const { system } = useUnits();
  const before = show({ ...match.before, plus_minus: 0 }, system);
  const after = show({ ...match.after, plus_minus: 0 }, system);
  return (
    <section className="panel p-4" aria-label={`Matched: ${match.name}`}>
      <h2 className="font-semibold text-lg">{match.name} matched</h2>
      <p className="mt-1">
        A difference of two of these is known to{" "}
        <span className="reading font-semibold text-2xl">
          ±{after.value} {after.unit}
        </span>{" "}
        instead of{" "}
        <span className="reading">
          ±{before.value} {before.unit}
        </span>
        .
      </p>
      {match.trouble && (
        <p role="alert" className="mt-2 rounded border-2 border-error p-2">
          {say(match.trouble, system)}
        </p>
      )}
      <table className="mt-2 w-full text-left">
        <thead>
          <tr className="text-sm quiet">
            <th className="font-normal">Probe</th>
            <th className="font-normal">showed</th>
            <th className="font-normal">above the mean of all</th>
          </tr>
        </thead>
        <tbody>
          {match.probes.map((probe) => (
            <tr key={probe.instrument} className="border-base-300 border-t">
              <th className="py-1.5 font-semibold">{probe.name}</th>
              <td>
                <Figure quantity={probe.mean} size="small" />
              </td>
              <td>
                <Figure quantity={probe.offset} size="small" />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
