/** One set of fields for the whole interface: text, numbers in the user's units, one of a few, one of many. */
import { Check } from "lucide-react";
import type { ReactNode } from "react";
import {
  TextField as AriaTextField,
  Button,
  Checkbox,
  FieldError,
  FileTrigger,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  Popover,
  Radio,
  RadioGroup,
  Select,
  SelectValue,
  TextArea,
} from "react-aria-components";
import { type Control, Controller, type FieldPath, type FieldValues } from "react-hook-form";
import { useUnits } from "../units/UnitSystem";
import { typedSi, unitOf } from "../units/units";

interface Own {
  label: string;
  wrong?: string | undefined;
  /** The label is only said, not shown. */
  quiet?: boolean;
}

export interface TextProps extends Own {
  value: string;
  onChange: (text: string) => void;
  most?: number;
  type?: "text" | "date" | "email" | "password";
  mode?: "text" | "decimal" | "numeric";
  placeholder?: string;
  rows?: number;
  id?: string;
  className?: string;
  autoComplete?: string;
  onBlur?: () => void;
}

/** Words; what is wrong with them stands below. */
export function TextField({
  label,
  value,
  onChange,
  wrong = "",
  quiet = false,
  most = 4000,
  type = "text",
  mode = "text",
  placeholder,
  rows,
  id,
  className = "",
  autoComplete,
  onBlur,
}: TextProps) {
  const look = `touch w-full ${mode === "text" ? "" : "reading"} ${wrong ? "border-error" : ""}`;
  return (
    <AriaTextField
      value={value}
      onChange={onChange}
      isInvalid={Boolean(wrong)}
      type={type}
      inputMode={mode}
      maxLength={most}
      validationBehavior="aria"
      className={`block ${className}`}
      {...(id ? { id } : {})}
      {...(autoComplete ? { autoComplete } : {})}
      {...(onBlur ? { onBlur } : {})}
      {...(quiet ? { "aria-label": label } : {})}
    >
      {!quiet && <Label className="mb-1 block">{label}</Label>}
      {rows ? (
        <TextArea rows={rows} className={`textarea ${look}`} {...(placeholder ? { placeholder } : {})} />
      ) : (
        <Input className={`input ${look}`} {...(placeholder ? { placeholder } : {})} />
      )}
      <Wrong words={wrong} />
    </AriaTextField>
  );
}

function Wrong({ words }: { words: string }) {
  return (
    <FieldError className="block">
      <span role="alert">{words}</span>
    </FieldError>
  );
}

/** A number, typed in the user's units; its kind gives the unit. */
export function NumberField({ kind, label, ...more }: TextProps & { kind: string }) {
  const { system } = useUnits();
  const unit = unitOf(kind, system).label;
  return <TextField {...more} label={unit ? `${label}, ${unit}` : label} mode="decimal" most={40} />;
}

/** Yes or no, with a tick. */
export function Tick({
  children,
  value,
  onChange,
  disabled = false,
}: {
  children: ReactNode;
  value: boolean;
  onChange: (value: boolean) => void;
  disabled?: boolean;
}) {
  return (
    <Checkbox
      isSelected={value}
      onChange={onChange}
      isDisabled={disabled}
      className="touch flex cursor-pointer items-center gap-3"
    >
      {({ isSelected, isFocusVisible }) => (
        <>
          <span
            className={`grid size-6 shrink-0 place-items-center rounded border-2 ${
              isSelected ? "border-primary bg-primary text-primary-content" : "border-base-content/60"
            } ${isFocusVisible ? "outline-2 outline-primary outline-offset-2" : ""}`}
          >
            {isSelected && <Check size={18} aria-hidden="true" />}
          </span>
          {children}
        </>
      )}
    </Checkbox>
  );
}

/** Choose a file of this device. */
export function FileButton({
  children,
  types,
  onChosen,
  disabled = false,
}: {
  children: ReactNode;
  types: string[];
  onChosen: (file: File) => void;
  disabled?: boolean;
}) {
  return (
    <FileTrigger
      acceptedFileTypes={types}
      onSelect={(files) => {
        const file = files?.item(0);
        if (file) onChosen(file);
      }}
    >
      <Button className="btn touch" isDisabled={disabled}>
        {children}
      </Button>
    </FileTrigger>
  );
}

/** One of a few, all in sight; arrow keys move between them. */
export function Choices<Key extends string>({
  label,
  options,
  value,
  onChange,
  wrong = "",
  quiet = false,
  disabled = false,
}: Own & {
  options: Record<Key, string>;
  value: Key | "" | undefined;
  onChange: (key: Key) => void;
  disabled?: boolean;
}) {
  return (
    <RadioGroup
      value={value || null}
      onChange={(key) => onChange(key as Key)}
      orientation="horizontal"
      isDisabled={disabled}
      isInvalid={Boolean(wrong)}
      validationBehavior="aria"
    >
      <Label className={quiet ? "sr-only" : "mb-1 block"}>{label}</Label>
      <div className="flex flex-wrap gap-2">
        {Object.entries<string>(options).map(([key, name]) => (
          <Radio
            key={key}
            value={key}
            className={({ isSelected, isFocusVisible }) =>
              `btn touch h-auto max-w-full shrink py-1 text-left font-normal ${isSelected ? "btn-neutral" : ""} ${
                isFocusVisible ? "outline-2 outline-primary outline-offset-2" : ""
              }`
            }
          >
            {name}
          </Radio>
        ))}
      </div>
      <Wrong words={wrong} />
    </RadioGroup>
  );
}

export interface Option {
  key: string;
  name: string;
}

/** One of many, in a list that opens. */
export function SelectField({
  label,
  options,
  value,
  onChange,
  wrong = "",
  quiet = false,
  disabled = false,
  className = "",
  empty,
}: Own & {
  options: Option[];
  value: string;
  onChange: (key: string) => void;
  disabled?: boolean;
  className?: string;
  /** What stands there while nothing is chosen. */
  empty?: string;
}) {
  return (
    <Select
      selectedKey={value || null}
      onSelectionChange={(key) => onChange(String(key ?? ""))}
      isDisabled={disabled || options.length === 0}
      isInvalid={Boolean(wrong)}
      validationBehavior="aria"
      className={`block ${className}`}
      placeholder={empty ?? "Choose"}
      {...(quiet ? { "aria-label": label } : {})}
    >
      {!quiet && <Label className="mb-1 block">{label}</Label>}
      <Button className={`select touch w-full cursor-pointer text-left ${wrong ? "border-error" : ""}`}>
        <SelectValue className="truncate" />
      </Button>
      <Wrong words={wrong} />
      <Popover className="panel max-h-80 min-w-(--trigger-width) overflow-y-auto p-1 shadow-sm">
        <ListBox items={options.map((each) => ({ ...each, id: each.key }))} className="outline-none">
          {(option) => (
            <ListBoxItem
              id={option.key}
              textValue={option.name}
              className={({ isFocused, isSelected }) =>
                `touch flex cursor-pointer items-center rounded px-3 outline-none ${
                  isFocused ? "bg-base-200" : ""
                } ${isSelected ? "font-semibold" : ""}`
              }
            >
              {option.name}
            </ListBoxItem>
          )}
        </ListBox>
      </Popover>
    </Select>
  );
}

/** True, or the sentence that says what is wrong. */
export interface Rule {
  validate: (text: string) => true | string;
}

type Held<Values extends FieldValues> = {
  /** What the server said about it. */
  refused?: string | undefined;
  control: Control<Values>;
  name: FieldPath<Values>;
  rules?: Rule;
};

type Given<Props> = Omit<Props, "value" | "onChange" | "wrong">;

/** A field of a form: its value, its rule, and the sentence where it is broken. */
function held<Values extends FieldValues>(
  { control, name, rules, refused }: Held<Values>,
  draw: (field: { value: string; onChange: (text: string) => void; wrong: string }) => ReactNode,
) {
  return (
    <Controller
      control={control}
      name={name}
      {...(rules ? { rules } : {})}
      render={({ field, fieldState }) => (
        <>
          {draw({
            value: field.value,
            onChange: field.onChange,
            wrong: fieldState.error?.message ?? refused ?? "",
          })}
        </>
      )}
    />
  );
}

export function FormText<Values extends FieldValues>({
  control,
  name,
  rules,
  refused,
  ...more
}: Held<Values> & Given<TextProps>) {
  return held({ control, name, rules, refused } as Held<Values>, (field) => (
    <TextField {...more} {...field} />
  ));
}

export function FormNumber<Values extends FieldValues>({
  control,
  name,
  rules,
  refused,
  ...more
}: Held<Values> & Given<TextProps> & { kind: string }) {
  return held({ control, name, rules, refused } as Held<Values>, (field) => (
    <NumberField {...more} {...field} />
  ));
}

export function FormSelect<Values extends FieldValues>({
  control,
  name,
  rules,
  refused,
  ...more
}: Held<Values> & Given<Parameters<typeof SelectField>[0]>) {
  return held({ control, name, rules, refused } as Held<Values>, (field) => (
    <SelectField {...more} {...field} />
  ));
}

export function FormChoices<Values extends FieldValues>({
  control,
  name,
  rules,
  refused,
  onChosen,
  ...more
}: Held<Values> & Given<Parameters<typeof Choices>[0]> & { onChosen?: (key: string) => void }) {
  return held({ control, name, rules, refused } as Held<Values>, (field) => (
    <Choices
      {...more}
      {...field}
      onChange={(key) => {
        field.onChange(key);
        onChosen?.(key);
      }}
    />
  ));
}

/** A rule: something must be written. */
export const filled = (words: string): Rule => ({ validate: (text: string) => text.trim() !== "" || words });

/** A rule for a number in the user's units, told in SI; empty is allowed where `optional`. */
export const numberRule = (
  kind: string,
  system: "SI" | "US",
  fits: (si: number) => true | string = () => true,
  more: { optional?: boolean; words?: string; empty?: string } = {},
): Rule => ({
  validate: (text: string) => {
    const words = more.words ?? "A number, please.";
    if (!text.trim()) return more.optional || (more.empty ?? words);
    const si = typedSi(text, kind, system);
    return si === undefined ? words : fits(si);
  },
});
