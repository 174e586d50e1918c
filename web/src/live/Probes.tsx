import { useQuery } from "@tanstack/react-query";
import { ArrowLeft } from "lucide-react";
import { probesQuery } from "../api/queries";
import { useVisit } from "../logbook/context";
import { ofKind, type Station } from "../logbook/logbook";
import { SelectField } from "../shell/fields";
import { Battery, LiveValue, StateWords } from "./LiveMark";
import { Trends } from "./Trends";
import type { Channel } from "./types";
import { useLive } from "./useLive";

/** Hang each probe at its place once; it stays there for the visit. */
export function Probes() {
  const { openTool } = useVisit();
  return (
    <div className="space-y-3">
      <ToolHead title="Live probes" close={() => openTool(undefined)} />
      <ProbeList />
      <Trends />
    </div>
  );
}

export function ToolHead({ title, close }: { title: string; close: () => void }) {
  return (
    <div className="flex items-center gap-2">
      <button type="button" className="btn btn-ghost touch" onClick={close}>
        <ArrowLeft size={20} aria-hidden="true" /> Back
      </button>
      <h1 className="font-semibold text-2xl">{title}</h1>
    </div>
  );
}

/** Every probe within reach that is one of our instruments: where it hangs, what it shows. */
export function ProbeList() {
  const { picture, on } = useLive();
  const probes = useQuery(probesQuery);
  const { mayWrite } = useVisit();
  const ours = (probes.data?.probes ?? []).filter((probe) => probe.instrument);
  if (!on || ours.length === 0) {
    return (
      <p className="panel p-3">
        {on
          ? "No probe within reach is on the list of instruments. Add it there with its serial number."
          : "No live probes here. Readings are typed: tap a station in the air path."}
      </p>
    );
  }
  return (
    <div className="space-y-2">
      <ul className="panel divide-y divide-base-300">
        {ours.map((probe) => (
          <ProbeLine
            key={probe.serial}
            instrument={String(probe.instrument)}
            serial={probe.serial}
            fallback={probe.name}
            quantities={probe.quantities}
            channels={(picture?.channels ?? []).filter((channel) => channel.serial === probe.serial)}
            mayWrite={mayWrite}
          />
        ))}
      </ul>
    </div>
  );
}

function ProbeLine({
  instrument,
  serial,
  fallback,
  quantities,
  channels,
  mayWrite,
}: {
  instrument: string;
  serial: string;
  fallback: string;
  quantities: string[];
  channels: Channel[];
  mayWrite: boolean;
}) {
  const first = channels[0];
  return (
    <li className="grid items-center gap-x-4 gap-y-1 p-3 wide:grid-cols-[8rem_minmax(19rem,1fr)_1.3fr]">
      <div>
        <p className="font-semibold">{first?.name ?? fallback}</p>
        <p className="text-sm quiet">{serial}</p>
        {first && <Battery channel={first} />}
      </div>
      <HangAt instrument={instrument} quantities={quantities} disabled={!mayWrite} />
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
        {channels.slice(0, 3).map((channel) => (
          <span key={channel.key} className="inline-flex flex-wrap items-baseline gap-x-2 text-xl">
            <LiveValue channel={channel} />
            {!channel.lost && channel.station !== "" && (
              <span className="text-sm">
                <StateWords channel={channel} />
              </span>
            )}
          </span>
        ))}
        {channels.length === 0 && <span className="quiet">nothing heard yet</span>}
      </div>
    </li>
  );
}

/** Where a probe hangs: station and point. */
export function HangAt({
  instrument,
  quantities,
  disabled = false,
}: {
  instrument: string;
  quantities: string[];
  disabled?: boolean;
}) {
  const { page, entries, record } = useVisit();
  const waiting = ofKind(entries, "assignment").findLast(
    (entry) => entry.waiting && entry.body.instrument === instrument,
  );
  const told = page.work_up.assigned?.find((each) => each.instrument === instrument);
  const station = waiting ? waiting.body.station : (told?.station ?? "");
  const point = waiting ? (waiting.body.point ?? 1) : (told?.point ?? 1);
  const able = page.work_up.path.stations.filter((each) => canRead(each, quantities));
  const hang = (nextStation: string, nextPoint: number) =>
    void record("assignment", { instrument, station: nextStation, point: nextPoint }, { phase: "as_found" });
  return (
    <div className="flex gap-2">
      <SelectField
        className="min-w-0 flex-1"
        label="Assign to"
        quiet
        value={station || IN_HAND.key}
        disabled={disabled}
        onChange={(next) => hang(next === IN_HAND.key ? "" : next, 1)}
        options={[IN_HAND, ...able.map((each) => ({ key: each.id, name: each.name }))]}
      />
      {station && (
        <SelectField
          className="w-[5.5rem]"
          label="Point"
          quiet
          value={String(point)}
          disabled={disabled}
          onChange={(next) => hang(station, Number(next))}
          options={POINTS}
        />
      )}
    </div>
  );
}

const IN_HAND = { key: "hand", name: "in the hand" };

const POINTS = [1, 2, 3, 4, 5, 6, 7, 8].map((each) => ({ key: String(each), name: `pt ${each}` }));

const canRead = (station: Station, quantities: string[]): boolean =>
  station.kind !== "traverse" && quantities.some((quantity) => station.quantities.includes(quantity));
