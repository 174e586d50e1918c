import { useState } from "react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { FormNumber, FormSelect, numberRule } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { asTypedExactly, typedSi } from "../../units/units";
import type { Page } from "./useDucts";

const FIELDS = [
  { name: "held_m3s", label: "It holds this airflow (constant-airflow motor)", kind: "airflow" },
  { name: "drop_pa", label: "Return, filter and coil lose", kind: "pressure" },
  { name: "at_m3s", label: "at an airflow of", kind: "airflow" },
  { name: "leak_at_25pa_m3s", label: "Supply ducts leak outside, at 25 Pa", kind: "airflow" },
] as const;

/** What drives the air, where the nameplate and the statics don't tell it. */
export function UnitForm({ ducts }: { ducts: Page }) {
  const { record, mayWrite, page } = useVisit();
  const { system } = useUnits();
  const unit = ducts.unit ?? {};
  const taps = page.work_up.speed_taps ?? [];
  const [refused, setRefused] = useState("");
  const { control, handleSubmit } = useForm({
    defaultValues: {
      tap: unit.tap || taps[0] || "",
      held_m3s: asTypedExactly(unit.held_m3s, "airflow", system),
      drop_pa: asTypedExactly(unit.drop_pa, "pressure", system),
      at_m3s: asTypedExactly(unit.at_m3s, "airflow", system),
      leak_at_25pa_m3s: asTypedExactly(unit.leak_at_25pa_m3s, "airflow", system),
    },
  });
  if (!mayWrite) return null;
  const send = handleSubmit(async (form) => {
    const both = Boolean(form.drop_pa.trim()) === Boolean(form.at_m3s.trim());
    setRefused(both ? "" : "Give both: the drop, and the airflow at which it was read.");
    if (!both) return;
    const numbers = FIELDS.map(({ name, kind }) => [name, typedSi(form[name], kind, system)] as const);
    await record("duct_unit", {
      tap: form.tap,
      ...Object.fromEntries(numbers.filter(([, value]) => value !== undefined)),
    });
  });
  return (
    <details className="panel px-4 print:hidden">
      <summary className="touch flex cursor-pointer items-center font-semibold">
        Blower and return side
      </summary>
      <form onSubmit={send} noValidate className="grid gap-3 pb-4 sm:grid-cols-2">
        {taps.length > 0 && (
          <FormSelect
            control={control}
            name="tap"
            label="Speed tap"
            options={taps.map((tap) => ({ key: tap, name: tap }))}
          />
        )}
        {FIELDS.map(({ name, label, kind }) => (
          <FormNumber
            key={name}
            control={control}
            name={name}
            label={label}
            kind={kind}
            rules={numberRule(kind, system, above, { optional: true })}
            refused={name === "at_m3s" ? refused : undefined}
          />
        ))}
        <button type="submit" className="btn touch sm:col-span-2 sm:justify-self-start">
          Keep
        </button>
      </form>
    </details>
  );
}

const above = (si: number) => si > 0 || "A number above zero.";
