/** What was seen of one test done by hand: looks, numbers, a note. The part says what is asked; this keeps it. */
import { useState } from "react";
import { Choices, NumberField, TextField } from "../shell/fields";
import { useUnits } from "../units/UnitSystem";
import { type Sentence, say, typedSi } from "../units/units";

export interface Look {
  name: string;
  label: string;
  options: Record<string, string>;
}

export interface Asked {
  name: string;
  label: string;
  kind: string;
}

export interface SeenByHand {
  looks: Record<string, string>;
  numbers: Record<string, number>;
  note: string;
}

export function TestForm({
  title,
  todo,
  looks,
  numbers,
  keep,
}: {
  title: string;
  todo: Sentence;
  looks: Look[];
  numbers: Asked[];
  keep: (seen: SeenByHand) => Promise<void>;
}) {
  const { system } = useUnits();
  const [seen, setSeen] = useState<Record<string, string>>({});
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [note, setNote] = useState("");
  const [tried, setTried] = useState(false);
  const value = ({ name, kind }: Asked) => typedSi(texts[name] ?? "", kind, system);
  const wrong = (asked: Asked) =>
    (texts[asked.name] ?? "").trim() && value(asked) === undefined ? "This must be a number." : "";
  const send = async () => {
    setTried(true);
    if (numbers.some(wrong)) return;
    const typed = numbers.flatMap((asked) => {
      const si = value(asked);
      return si === undefined ? [] : [[asked.name, si] as const];
    });
    await keep({ looks: seen, numbers: Object.fromEntries(typed), note });
  };
  return (
    <form
      aria-label={title}
      className="space-y-4 border-base-300 border-t p-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void send();
      }}
    >
      <p className="text-lg">{say(todo, system)}</p>
      <div className="grid gap-3 sm:grid-cols-2">
        {looks.map(({ name, label, options }) => (
          <Choices
            key={name}
            label={label}
            options={options}
            value={seen[name]}
            onChange={(look) => setSeen({ ...seen, [name]: look })}
          />
        ))}
        {numbers.map((asked) => (
          <NumberField
            key={asked.name}
            label={asked.label}
            kind={asked.kind}
            value={texts[asked.name] ?? ""}
            onChange={(text) => setTexts({ ...texts, [asked.name]: text })}
            wrong={tried ? wrong(asked) : ""}
          />
        ))}
      </div>
      <TextField label="Anything else (optional)" value={note} onChange={setNote} most={400} />
      <button type="submit" className="btn btn-primary touch text-base">
        Note what I saw
      </button>
    </form>
  );
}
