/** Fields of the economizer's forms: numbers in the user's units, one of a few choices. */
import { useUnits } from "../units/UnitSystem";
import { fromSi, number, toSi, unitOf } from "../units/units";

/** What was typed as a number in SI, or undefined. */
export function typedSi(text: string, kind: string, system: "SI" | "US"): number | undefined {
  const tidy = text.trim().replace(",", ".").replace("−", "-");
  if (!tidy || !Number.isFinite(Number(tidy))) return undefined;
  return toSi(Number(tidy), unitOf(kind, system));
}

/** An SI value as one would type it. */
export function asTyped(value: number | null | undefined, kind: string, system: "SI" | "US"): string {
  if (value === null || value === undefined) return "";
  const unit = unitOf(kind, system);
  return number(fromSi(value, unit), unit.decimals).replace(/,/g, "").replace("−", "-");
}

export function NumberField({
  label,
  kind,
  value,
  onChange,
  wrong,
}: {
  label: string;
  kind: string;
  value: string;
  onChange: (text: string) => void;
  wrong?: string;
}) {
  const { system } = useUnits();
  const unit = unitOf(kind, system).label;
  return (
    <label className="block">
      <span className="mb-1 block">
        {label}
        {unit && `, ${unit}`}
      </span>
      <input
        className={`input touch reading w-full ${wrong ? "border-error" : ""}`}
        inputMode="decimal"
        value={value}
        aria-invalid={Boolean(wrong)}
        onChange={(event) => onChange(event.target.value)}
      />
      {wrong && (
        <span role="alert" className="block">
          {wrong}
        </span>
      )}
    </label>
  );
}

export function TextField({
  label,
  value,
  onChange,
  wrong,
}: {
  label: string;
  value: string;
  onChange: (text: string) => void;
  wrong?: string;
}) {
  return (
    <label className="block">
      <span className="mb-1 block">{label}</span>
      <input
        className={`input touch w-full ${wrong ? "border-error" : ""}`}
        value={value}
        maxLength={400}
        aria-invalid={Boolean(wrong)}
        onChange={(event) => onChange(event.target.value)}
      />
      {wrong && (
        <span role="alert" className="block">
          {wrong}
        </span>
      )}
    </label>
  );
}

export function Choices({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: Record<string, string>;
  value: string | undefined;
  onChange: (key: string) => void;
}) {
  return (
    <fieldset>
      <legend className="mb-1">{label}</legend>
      <div className="flex flex-wrap gap-2">
        {Object.entries(options).map(([key, name]) => (
          <button
            key={key}
            type="button"
            aria-pressed={value === key}
            className={`btn touch h-auto py-1 text-left font-normal ${value === key ? "btn-neutral" : ""}`}
            onClick={() => onChange(key)}
          >
            {name}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
