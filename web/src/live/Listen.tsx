import { useQuery } from "@tanstack/react-query";
import { Hand } from "lucide-react";
import { probesQuery } from "../api/queries";
import { useVisit } from "../logbook/context";
import type { Page } from "../logbook/logbook";
import { useKeys } from "../shell/useKeys";
import { readableOf } from "../units/units";
import { LiveValue, StateWords } from "./LiveMark";
import type { Channel } from "./types";
import { useChannelsAt, useLive } from "./useLive";

type Station = Page["work_up"]["path"]["stations"][number];

/** What the probes at this station show now; "hold" takes it as a reading. */
export function Listen({
  station,
  quantities,
  hold,
}: {
  station: Station;
  quantities: string[];
  hold: (channel: Channel) => void;
}) {
  const { on } = useLive();
  const channels = useChannelsAt(station.id).filter((channel) => quantities.includes(channel.quantity));
  const within = channels.filter((channel) => !channel.lost);
  const holdAll = () => {
    for (const channel of within) hold(channel);
  };
  useKeys({ h: within.length > 0 ? holdAll : undefined });
  if (!on || channels.length === 0) return null;
  const points = [...new Set(channels.map((channel) => channel.point))].sort((a, b) => a - b);
  return (
    <section className="panel mt-2 p-2" aria-label="Live">
      {points.map((point) => (
        <div key={point} className="border-base-300 border-b pb-1 last:border-0">
          {channels
            .filter((channel) => channel.point === point)
            .map((channel) => (
              <div key={channel.key} className="flex items-center justify-between gap-2 py-0.5">
                <span>
                  <span className="block text-sm quiet">
                    {channel.name}
                    {points.length > 1 && `, point ${point}`}:{" "}
                    {readableOf(channel.quantity).name.toLowerCase()}
                  </span>
                  {!channel.lost && <StateWords channel={channel} />}
                </span>
                <span className="text-[28px] leading-8" data-testid={`live-${channel.quantity}`}>
                  <LiveValue channel={channel} />
                </span>
              </div>
            ))}
        </div>
      ))}
      <SteadinessBar channels={within} />
      <button
        type="button"
        className="btn btn-primary touch mt-2 w-full text-lg"
        title="Hold (h)"
        disabled={within.length === 0}
        onClick={holdAll}
      >
        <Hand size={20} aria-hidden="true" /> Hold {within.length > 1 ? "these values" : "this value"}
      </button>
      {within.some((channel) => channel.state !== "steady") && (
        <p className="mt-1 text-sm">Held now, it is marked as early. Better wait until it is steady.</p>
      )}
    </section>
  );
}

/** How much of the three minutes was watched, or how fast the fastest still moves. */
function SteadinessBar({ channels }: { channels: Channel[] }) {
  const slowest = channels.find((channel) => channel.state !== "steady") ?? channels[0];
  if (!slowest) return null;
  const watched = Math.min(slowest.held.seconds / 162, 1);
  return (
    <progress
      className={`progress mt-1 h-2 w-full ${slowest.state === "steady" ? "progress-success" : "progress-warning"}`}
      value={slowest.state === "steady" ? 1 : Math.min(watched, 0.95)}
      max={1}
      aria-label="How long it was watched"
    />
  );
}

/** A probe in the hand that can read here, hung up at one tap; below the keys, so that they never move under a thumb. */
export function HangHere({ station }: { station: Station }) {
  const { record, mayWrite } = useVisit();
  const { picture, on } = useLive();
  const hung = useChannelsAt(station.id).length > 0;
  const { data } = useQuery(probesQuery);
  const free = (data?.probes ?? []).filter(
    (probe) =>
      probe.instrument &&
      probe.quantities.some((quantity) => station.quantities.includes(quantity)) &&
      (picture?.channels ?? []).some(
        (channel) => channel.serial === probe.serial && channel.station === "" && !channel.lost,
      ),
  );
  if (!on || hung || free.length === 0 || !mayWrite) return null;
  return (
    <fieldset className="mt-2 flex flex-wrap gap-2">
      <legend className="sr-only">Assign a probe to this station</legend>
      {free.slice(0, 4).map((probe) => (
        <button
          key={probe.serial}
          type="button"
          className="btn touch"
          onClick={() =>
            void record(
              "assignment",
              { instrument: String(probe.instrument), station: station.id, point: 1 },
              { phase: "as_found" },
            )
          }
        >
          Assign{" "}
          {(picture?.channels ?? []).find((channel) => channel.serial === probe.serial)?.name ?? probe.name}{" "}
          here
        </button>
      ))}
    </fieldset>
  );
}
