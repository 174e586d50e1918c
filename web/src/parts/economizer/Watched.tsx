import { useState } from "react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormChoices, FormNumber, FormText, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { typedSi } from "../../units/units";
import { known } from "./pointWords";
import type { Test } from "./useEconomizer";

/** Watch at the unit, and type what you see. What is left empty counts as not observed. */
export function Watched({ step, phase }: { step: Test["step"]; phase: "as_found" | "as_left" }) {
  const { record } = useVisit();
  const { system } = useUnits();
  const [open, setOpen] = useState(step.by_hand_only ?? false);
  const { control, handleSubmit, reset } = useForm<Form>({ defaultValues: NOTHING });
  const points = (step.expected ?? []).map((each) => each.point).filter((point) => known(point).by_eye);
  const asked = step.look ?? [];
  if (asked.length === 0 && points.length === 0) return null;
  if (!open) {
    return (
      <button type="button" className="btn touch ml-2" onClick={() => setOpen(true)}>
        Type what you see
      </button>
    );
  }
  const send = handleSubmit(async (form) => {
    const values: Record<string, number> = {};
    for (const point of points) {
      const text = form.points[point] ?? "";
      const value = known(point).on_off ? ON[text] : typedSi(text, known(point).kind, system);
      if (value !== undefined) values[point] = value;
    }
    const looks = Object.fromEntries(
      asked.flatMap((look, index) => {
        const answer = form.looks[index];
        return answer ? [[look, answer === "yes"]] : [];
      }),
    );
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
          note: form.note,
          asked,
          looks,
        },
      },
      { phase },
    );
    reset(NOTHING);
    setOpen(step.by_hand_only ?? false);
  });
  return (
    <form onSubmit={send} noValidate className="space-y-3" aria-label={`What you see: ${step.title}`}>
      {asked.map((look, index) => (
        <FormChoices
          key={look}
          control={control}
          name={`looks.${index}`}
          label={look}
          options={{ yes: "Yes", no: "No" }}
        />
      ))}
      <div className="grid gap-3 sm:grid-cols-2">
        {points.map((point) => {
          const { name, kind, on_off, shown_as } = known(point);
          return on_off ? (
            <FormChoices
              key={point}
              control={control}
              name={`points.${point}`}
              label={name}
              options={shown_as === "yes" ? { yes: "Yes", no: "No" } : { yes: "On", no: "Off" }}
            />
          ) : (
            <FormNumber
              key={point}
              control={control}
              name={`points.${point}`}
              label={name}
              kind={kind}
              rules={numberRule(kind, system, undefined, { optional: true })}
            />
          );
        })}
      </div>
      <FormText control={control} name="note" label="Anything else (optional)" most={400} />
      <button type="submit" className="btn btn-primary touch">
        Note what I saw
      </button>
    </form>
  );
}

interface Form {
  points: Record<string, string>;
  looks: string[];
  note: string;
}

const NOTHING: Form = { points: {}, looks: [], note: "" };

const ON: Record<string, number> = { yes: 1, no: 0 };
