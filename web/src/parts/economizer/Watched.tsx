import { type FormEvent, useState } from "react";
import { useVisit } from "../../logbook/context";
import { Choices, NumberField } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { typedSi } from "../../units/units";
import { POINT_NAMES } from "./pointWords";
import type { Test } from "./useEconomizer";

const BY_EYE = ["damper_position", "compressor", "fan", "relief", "building_pressure", "alarming"];
const ON_OFF = new Set(["compressor", "fan", "alarming"]);

/** Watch at the unit, and type what you see. What is left empty counts as not observed. */
export function Watched({ step, phase }: { step: Test["step"]; phase: "as_found" | "as_left" }) {
  const { record } = useVisit();
  const { system } = useUnits();
  const [open, setOpen] = useState(step.by_hand_only ?? false);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [looks, setLooks] = useState<Record<string, boolean>>({});
  const [note, setNote] = useState("");
  const [tried, setTried] = useState(false);
  const points = (step.expected ?? [])
    .map((each) => each.point)
    .filter((point) => BY_EYE.includes(point) || point === "outdoor_share");
  const asked = step.look ?? [];
  if (asked.length === 0 && points.length === 0) return null;
  if (!open) {
    return (
      <button type="button" className="btn touch ml-2" onClick={() => setOpen(true)}>
        Type what you see
      </button>
    );
  }
  const wrong = (point: string) =>
    typed[point]?.trim() &&
    typedSi(typed[point] ?? "", POINT_NAMES[point]?.[1] ?? "share", system) === undefined
      ? "A number, please."
      : "";
  const send = async (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (points.some((point) => !ON_OFF.has(point) && wrong(point))) return;
    const values: Record<string, number> = {};
    for (const point of points) {
      if (ON_OFF.has(point)) {
        if (typed[point]) values[point] = typed[point] === "yes" ? 1 : 0;
        continue;
      }
      const value = typedSi(typed[point] ?? "", POINT_NAMES[point]?.[1] ?? "share", system);
      if (value !== undefined) values[point] = value;
    }
    await record(
      "test_seen",
      {
        title: step.title,
        seen: {
          test: step.key,
          how: "watched",
          values,
          expected: step.expected ?? [],
          allowed_s: step.allowed_s ?? 0,
          note,
          asked,
          looks,
        },
      },
      { phase },
    );
    setTyped({});
    setLooks({});
    setNote("");
    setTried(false);
    setOpen(step.by_hand_only ?? false);
  };
  return (
    <form onSubmit={send} noValidate className="space-y-3" aria-label={`What you see: ${step.title}`}>
      {asked.map((look) => (
        <Choices
          key={look}
          label={look}
          options={{ yes: "Yes", no: "No" }}
          value={looks[look] === undefined ? undefined : looks[look] ? "yes" : "no"}
          onChange={(key) => setLooks({ ...looks, [look]: key === "yes" })}
        />
      ))}
      <div className="grid gap-3 sm:grid-cols-2">
        {points.map((point) => {
          const [name, kind] = POINT_NAMES[point] ?? [point, "share"];
          return ON_OFF.has(point) ? (
            <Choices
              key={point}
              label={name}
              options={{ yes: point === "alarming" ? "Yes" : "On", no: point === "alarming" ? "No" : "Off" }}
              value={typed[point]}
              onChange={(key) => setTyped({ ...typed, [point]: key })}
            />
          ) : (
            <NumberField
              key={point}
              label={name}
              kind={kind}
              value={typed[point] ?? ""}
              onChange={(text) => setTyped({ ...typed, [point]: text })}
              wrong={tried ? wrong(point) : ""}
            />
          );
        })}
      </div>
      <label className="block">
        <span className="mb-1 block">Anything else (optional)</span>
        <input
          className="input touch w-full"
          value={note}
          maxLength={400}
          onChange={(event) => setNote(event.target.value)}
        />
      </label>
      <button type="submit" className="btn btn-primary touch">
        Note what I saw
      </button>
    </form>
  );
}
