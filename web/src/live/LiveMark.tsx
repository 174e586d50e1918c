import { BatteryLow, Unplug } from "lucide-react";
import { useUnits } from "../units/UnitSystem";
import { inWords } from "../units/units";
import { type Channel, STATE_WORDS, type State } from "./types";

/** Steady or not: shape and word first. A level line stands, a slope moves, a zigzag jumps, dots are still watched. */
export function StateSign({ state, size = 20 }: { state: State; size?: number }) {
  const path: Record<State, string> = {
    steady: "M2 12H22",
    moving: "M2 19 22 5M22 5h-7M22 5v7",
    scattered: "M2 12 6 5l4 14 4-14 4 14 4-7",
    too_short: "M3 12h2M11 12h2M19 12h2",
  };
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden="true" className="shrink-0">
      <path
        d={path[state]}
        fill="none"
        stroke="currentColor"
        strokeWidth={state === "steady" ? 4 : 2.5}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </svg>
  );
}

const TONES: Record<State, string> = {
  steady: "text-success",
  moving: "text-accent",
  scattered: "text-warning",
  too_short: "quiet",
};

/** Sign and word of a channel's state, with about how long it still needs. */
export function StateWords({ channel }: { channel: Channel }) {
  const minutes =
    channel.state === "moving" && channel.settles_in_s ? Math.ceil(channel.settles_in_s / 60) : 0;
  return (
    <span className="inline-flex items-center gap-1.5">
      <span className={TONES[channel.state]}>
        <StateSign state={channel.state} />
      </span>
      {STATE_WORDS[channel.state]}
      {minutes > 0 && `, about ${minutes} min more`}
    </span>
  );
}

/** What a probe shows now; when it is out of reach, that, and never its last value. */
export function LiveValue({ channel, large = false }: { channel: Channel; large?: boolean }) {
  const { system } = useUnits();
  if (channel.lost || channel.value === null) {
    return (
      <span className="inline-flex items-center gap-1.5 font-semibold text-error">
        <Unplug size={18} aria-hidden="true" /> out of reach
      </span>
    );
  }
  return (
    <span className={`reading font-semibold ${large ? "text-[52px] leading-none" : ""}`}>
      {inWords(channel.value, channel.kind, system)}
    </span>
  );
}

export function Battery({ channel }: { channel: Channel }) {
  if (!channel.low_battery) return null;
  return (
    <span className="inline-flex items-center gap-1 text-sm">
      <BatteryLow size={18} className="text-warning" aria-hidden="true" /> battery low
    </span>
  );
}
