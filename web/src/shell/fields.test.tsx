import { renderToStaticMarkup } from "react-dom/server";
import { useForm } from "react-hook-form";
import { describe, expect, it } from "vitest";
import { UnitSystemProvider } from "../units/UnitSystem";
import {
  Choices,
  FileButton,
  FormNumber,
  FormText,
  filled,
  NumberField,
  numberRule,
  SelectField,
  TextField,
  Tick,
} from "./fields";

globalThis.localStorage = { getItem: () => "US", setItem: () => undefined } as unknown as Storage;

const drawn = (what: React.ReactNode) =>
  renderToStaticMarkup(<UnitSystemProvider>{what}</UnitSystemProvider>);
const nothing = () => undefined;

describe("rules of a field", () => {
  it("ask for words where something must be written, spaces are none", () => {
    const rule = filled("Say why.");
    expect(rule.validate("")).toBe("Say why.");
    expect(rule.validate("   ")).toBe("Say why.");
    expect(rule.validate("because")).toBe(true);
  });

  it("read a number in the user's units, with a comma or a real minus sign", () => {
    const seen: number[] = [];
    const rule = numberRule("temperature", "US", (si) => seen.push(si) > 0 || "No.");
    expect(rule.validate("50")).toBe(true);
    expect(rule.validate("50,0")).toBe(true);
    expect(rule.validate("−40")).toBe(true);
    expect(seen.map((each) => Math.round(each * 100) / 100)).toEqual([10, 10, -40]);
  });

  it.each([
    ["ten", "A number, please."],
    ["1.2.3", "A number, please."],
    ["", "A number, please."],
    ["Infinity", "A number, please."],
  ])("refuse %j", (text, words) => {
    expect(numberRule("temperature", "SI").validate(text)).toBe(words);
  });

  it("let nothing pass where it is optional, and say what is missing where it is not", () => {
    const own = { words: "Above zero.", empty: "Fill this in." };
    const above = (si: number) => si > 0 || "Above zero.";
    expect(numberRule("length", "SI", above, own).validate("")).toBe("Fill this in.");
    expect(numberRule("length", "SI", above, own).validate("x")).toBe("Above zero.");
    expect(numberRule("length", "SI", above, own).validate("0")).toBe("Above zero.");
    expect(numberRule("length", "SI", above, { ...own, optional: true }).validate(" ")).toBe(true);
    expect(numberRule("length", "SI", above, { ...own, optional: true }).validate("-1")).toBe("Above zero.");
  });
});

describe("fields", () => {
  it("name themselves, say their unit, and the sentence where they are wrong", () => {
    const html = drawn(
      <NumberField label="Return air" kind="temperature" value="75" onChange={nothing} wrong="Too warm." />,
    );
    expect(html).toContain("Return air, °F");
    expect(html).toContain('inputMode="decimal"');
    expect(html).toMatch(/role="alert">Too warm\./);
    expect(html).toContain('aria-invalid="true"');
  });

  it("keep a quiet label for those who listen", () => {
    const html = drawn(<TextField label="Note" quiet value="" onChange={nothing} placeholder="Note" />);
    expect(html).toContain('aria-label="Note"');
    expect(html).not.toContain("<label");
  });

  it("are several lines where asked", () => {
    expect(drawn(<TextField label="Summary" rows={3} value="done" onChange={nothing} />)).toMatch(
      /<textarea[^>]*rows="3"/,
    );
  });

  it("show the chosen one of few, and none where nothing was chosen", () => {
    const options = { yes: "Yes", no: "No" };
    const chosen = drawn(
      <Choices<string> label="In order?" options={options} value="no" onChange={nothing} />,
    );
    expect(chosen.match(/checked=""/g)).toHaveLength(1);
    const open = drawn(<Choices<string> label="In order?" options={options} value="" onChange={nothing} />);
    expect(open).not.toContain('checked=""');
    expect(open).toContain("In order?");
  });

  it("show the chosen one of many, and what to do while none is", () => {
    const options = [
      { key: "a", name: "Probe A" },
      { key: "b", name: "Probe B" },
    ];
    expect(drawn(<SelectField label="Instrument" options={options} value="" onChange={nothing} />)).toContain(
      "Choose",
    );
    const wrong = drawn(
      <SelectField label="Instrument" options={options} value="" onChange={nothing} wrong="Choose one." />,
    );
    expect(wrong).toMatch(/role="alert">Choose one\./);
  });

  it("tick and untick", () => {
    expect(
      drawn(
        <Tick value onChange={nothing}>
          Volume
        </Tick>,
      ),
    ).toContain('checked=""');
    expect(
      drawn(
        <Tick value={false} onChange={nothing}>
          Volume
        </Tick>,
      ),
    ).not.toContain('checked=""');
  });

  it("choose a file of the asked kind", () => {
    const html = drawn(
      <FileButton types={[".csv"]} onChosen={nothing}>
        Bring in a list
      </FileButton>,
    );
    expect(html).toContain('accept=".csv"');
    expect(html).toContain("Bring in a list");
  });
});

function Form() {
  const { control } = useForm({ defaultValues: { why: "so", flow: "400" } });
  return (
    <>
      <FormText control={control} name="why" label="Why" refused="The server says no." />
      <FormNumber control={control} name="flow" label="Flow" kind="airflow" />
    </>
  );
}

describe("fields of a form", () => {
  it("hold their value, and what the server said about it", () => {
    const html = drawn(<Form />);
    expect(html).toContain('value="so"');
    expect(html).toContain('value="400"');
    expect(html).toContain("Flow, cfm");
    expect(html).toContain("The server says no.");
  });
});
