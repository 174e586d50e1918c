import { Check, Clock, RotateCcw, Search, TriangleAlert, UserRound } from "lucide-react";
import { type ReactNode, useState } from "react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import type { PhaseShown } from "../../logbook/logbook";
import { OneOf } from "../../logbook/OneOf";
import { FormText, filled } from "../../shell/fields";
import { useUnits } from "../../units/UnitSystem";
import { type Sentence, say } from "../../units/units";

type Finding = NonNullable<PhaseShown["findings"]>[number];
type Asked = NonNullable<PhaseShown["next_check"]>;
type Answer = "yes" | "no" | "cant";

/** What it points to: the next look first, then causes by how well they fit, each with its signs. */
export default function Causes() {
  const { shown } = useVisit();
  const { system: units } = useUnits();
  const all = shown.findings ?? [];
  const standing = all.filter((each) => !each.why_not);
  const rejected = all.filter((each) => each.why_not);
  const faint = standing.length > 0 && standing.every((each) => each.faint);
  return (
    <div className="space-y-4">
      {(shown.odd ?? []).map((sentence) => (
        <p key={sentence.text} className="flex gap-2 border-accent border-l-4 bg-base-200 p-3 font-semibold">
          <RotateCcw size={20} className="mt-0.5 shrink-0" aria-hidden="true" /> {say(sentence, units)}
        </p>
      ))}
      {faint && (
        <div className="panel p-4">
          <p className="font-semibold text-2xl">
            {(shown.sound ?? 0) >= SOUND_FITS_BEST
              ? `Nothing wrong fits best, ${chanceOf(shown.sound ?? 0)}.`
              : `No cause stands out. That nothing is wrong: ${chanceOf(shown.sound ?? 0)}.`}
          </p>
          <p className="mt-1">Should there be a complaint all the same, start with what is listed here.</p>
        </div>
      )}
      {shown.next_check && <NextLook check={shown.next_check} />}
      {standing.length === 0 && (
        <p className="panel p-4">
          {shown.stations.some((station) => station.readings.length > 0)
            ? "Nothing read so far points to a cause: no likely faults."
            : "Read return, supply and outdoor air first. What they point to appears here."}
        </p>
      )}
      <ol className="space-y-3">
        {standing.map((finding, index) => (
          <Cause key={finding.key} finding={finding} first={index === 0 && !faint} />
        ))}
      </ol>
      {rejected.length > 0 && (
        <section aria-labelledby="ruled-out">
          <h2 id="ruled-out" className="font-semibold text-lg">
            Ruled out
          </h2>
          <ul className="panel mt-2 divide-y divide-base-300">
            {rejected.map((finding) => (
              <Rejected key={finding.key} finding={finding} />
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

/** One look, answered on the spot: yes or no, or a station to read. */
function NextLook({ check }: { check: Asked }) {
  const { page, record, mayWrite, openStation, shown } = useVisit();
  const names = page.work_up.path.stations;
  const answers = async (said: [string, Answer][]) => {
    const phase = shown.phase === "as_left" ? "as_left" : "as_found";
    for (const [item, value] of said) await record("observation", { item, value }, { phase });
  };
  const choices = check.choices ?? [];
  const asked = choices.length > 0 ? choices.map((each) => each.key) : [check.key];
  const cant = (
    <button
      type="button"
      className="btn touch text-base"
      onClick={() => void answers(asked.map((item) => [item, "cant"]))}
    >
      Can't be done here
    </button>
  );
  return (
    <section aria-labelledby="next-look" className="rounded border-2 border-primary p-4">
      <h2 id="next-look" className="flex items-center gap-2 quiet">
        <Search size={18} aria-hidden="true" /> Look at this next
      </h2>
      <p className="mt-1 font-semibold text-2xl leading-snug">{check.ask}</p>
      <Who who={check.who} minutes={check.minutes} />
      {check.caution && <Caution text={check.caution} />}
      {check.between.length > 1 && (
        <p className="mt-1 text-sm">
          It tells apart: {check.between.slice(0, 4).join(", ").toLowerCase()}
          {check.between.length > 4 ? " and more" : ""}.
        </p>
      )}
      {mayWrite && choices.length > 0 && (
        <AtOnce key={asked.join()} choices={choices} onNoted={(said) => void answers(said)}>
          {cant}
        </AtOnce>
      )}
      {check.item && (
        <OneOf
          item={check.item}
          legend={check.title}
          phase={shown.phase === "as_left" ? "as_left" : "as_found"}
        />
      )}
      {mayWrite && choices.length === 0 && (
        <div className="mt-3 flex flex-wrap gap-2">
          {check.by_eye
            ? (["yes", "no"] as const).map((value) => (
                <button
                  key={value}
                  type="button"
                  className="btn btn-primary touch min-w-24 text-base"
                  onClick={() => void answers([[check.key, value]])}
                >
                  {value === "yes" ? "Yes" : "No"}
                </button>
              ))
            : check.stations.map((id) => (
                <button
                  key={id}
                  type="button"
                  className="btn btn-primary touch text-base"
                  onClick={() => openStation(id, shown.phase === "as_left" ? "prove" : "measure")}
                >
                  Read: {names.find((station) => station.id === id)?.name ?? id}
                </button>
              ))}
          {cant}
        </div>
      )}
    </section>
  );
}

/** Several questions that one place answers: each yes or no; one that is left open stays open. */
function AtOnce({
  choices,
  onNoted,
  children,
}: {
  choices: NonNullable<Asked["choices"]>;
  onNoted: (said: [string, Answer][]) => void;
  /** What may be answered instead. */
  children: ReactNode;
}) {
  const [said, setSaid] = useState<Readonly<Record<string, Answer>>>({});
  const answered = choices.flatMap(({ key }): [string, Answer][] => {
    const value = said[key];
    return value ? [[key, value]] : [];
  });
  return (
    <div className="mt-3">
      <ul className="divide-y divide-base-300 border-base-300 border-y">
        {choices.map((each) => (
          <li key={each.key} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <p id={`ask-${each.key}`} className="min-w-52 flex-1">
              {each.ask}
            </p>
            <fieldset aria-labelledby={`ask-${each.key}`} className="flex gap-2">
              {(["yes", "no"] as const).map((value) => (
                <button
                  key={value}
                  type="button"
                  aria-pressed={said[each.key] === value}
                  className={`btn touch min-w-20 text-base ${said[each.key] === value ? "btn-neutral" : ""}`}
                  onClick={() => setSaid({ ...said, [each.key]: value })}
                >
                  {said[each.key] === value && <Check size={18} aria-hidden="true" />}
                  {value === "yes" ? "Yes" : "No"}
                </button>
              ))}
            </fieldset>
          </li>
        ))}
      </ul>
      <div className="mt-3 flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-primary touch text-base"
          disabled={answered.length === 0}
          onClick={() => onNoted(answered)}
        >
          {answered.length < choices.length ? `Note ${answered.length} of ${choices.length}` : "Note these"}
        </button>
        {children}
      </div>
    </div>
  );
}

const SOUND_FITS_BEST = 0.5;

/** In steps of five, and never surer than can be known. */
const chanceOf = (chance: number): string =>
  chance > 0.95 ? "over 95 %" : chance < 0.1 ? "under 10 %" : `about ${5 * Math.round(20 * chance)} %`;

function Cause({ finding, first }: { finding: Finding; first: boolean }) {
  const { mayWrite } = useVisit();
  const [open, setOpen] = useState(first);
  const [rejecting, setRejecting] = useState(false);
  const signs = finding.seen.length;
  return (
    <li className={`panel ${first ? "border-primary" : ""}`}>
      <button
        type="button"
        aria-expanded={open}
        className="touch flex w-full flex-wrap items-baseline gap-x-3 px-4 py-2 text-left hover:bg-base-200"
        onClick={() => setOpen(!open)}
      >
        <span className={`font-semibold ${first ? "text-2xl" : "text-lg"}`}>{finding.name}</span>
        <span className="rounded bg-base-200 px-1.5 text-sm">{finding.part}</span>
        <span className="ml-auto text-sm">
          {finding.likely ? "likely" : finding.faint ? "unlikely" : "possible"}
          {finding.by_signs ? "" : `, ${chanceOf(finding.chance)}`}
          {!finding.faint &&
            `: ${signs} ${signs === 1 ? "sign" : "signs"} for, ${finding.against.length} against`}
        </span>
      </button>
      {open && (
        <div className="border-base-300 border-t px-4 py-3">
          <p>{finding.why}</p>
          <div className="mt-2 grid gap-x-6 gap-y-2 wide:grid-cols-2">
            <Signs title="For it" mark="+" signs={finding.seen} rest={finding.ordinary} />
            <div className="space-y-2">
              <Signs title="Against it" mark="−" signs={finding.against} />
              <Signs title="Not explained by it" mark="?" signs={finding.unexplained} />
            </div>
          </div>
          <p className="mt-3">
            <span className="font-semibold">Check: </span>
            {finding.check}
          </p>
          <Who who={finding.check_who} minutes={finding.check_minutes} />
          <p className="mt-2">
            <span className="font-semibold">If so: </span>
            {finding.do} <span className="quiet">({finding.who}.)</span>
          </p>
          {finding.caution && <Caution text={finding.caution} />}
          {mayWrite && !rejecting && (
            <button type="button" className="btn btn-ghost touch mt-2" onClick={() => setRejecting(true)}>
              It can't be this
            </button>
          )}
          {rejecting && <Reject cause={finding.key} onDone={() => setRejecting(false)} />}
        </div>
      )}
    </li>
  );
}

function Signs({
  title,
  mark,
  signs,
  rest = [],
}: {
  title: string;
  mark: string;
  signs: Sentence[];
  rest?: Sentence[];
}) {
  const { system } = useUnits();
  if (signs.length + rest.length === 0) return null;
  return (
    <div>
      <h3 className="font-semibold text-sm">{title}</h3>
      <ul>
        {signs.map((sign) => (
          <li key={sign.text} className="flex gap-2">
            <span className="reading w-4 shrink-0 font-semibold" aria-hidden="true">
              {mark}
            </span>
            {say(sign, system)}
          </li>
        ))}
      </ul>
      {rest.length > 0 && (
        <p className="mt-1 pl-6 text-sm quiet">
          In order, as it would be:{" "}
          {rest
            .map((sign) => say(sign, system))
            .join("; ")
            .toLowerCase()}
          .
        </p>
      )}
    </div>
  );
}

function Who({ who, minutes }: { who: string; minutes: number }) {
  return (
    <p className="mt-1 flex flex-wrap gap-x-4 text-sm">
      <span className="flex items-center gap-1">
        <Clock size={15} aria-hidden="true" /> about {minutes} {minutes === 1 ? "minute" : "minutes"}
      </span>
      <span className="flex items-center gap-1">
        <UserRound size={15} aria-hidden="true" /> {who}
      </span>
    </p>
  );
}

function Caution({ text }: { text: string }) {
  return (
    <p className="mt-1 flex gap-1.5 border-accent border-l-4 pl-2 text-sm">
      <TriangleAlert size={16} className="mt-0.5 shrink-0 text-accent" aria-hidden="true" />
      {text}
    </p>
  );
}

/** Ruling a cause out asks for the reason: the next one will want to know. */
function Reject({ cause, onDone }: { cause: string; onDone: () => void }) {
  const { record } = useVisit();
  const { control, handleSubmit } = useForm({ defaultValues: { why: "" } });
  const send = handleSubmit(async ({ why }) => {
    await record("rejection", { cause, why });
    onDone();
  });
  return (
    <form onSubmit={send} className="mt-2 space-y-2" noValidate>
      <FormText
        control={control}
        name="why"
        label="Why can't it be this?"
        rules={filled("Say why: the next one will want to know.")}
      />
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary touch">
          Rule it out
        </button>
        <button type="button" className="btn btn-ghost touch" onClick={onDone}>
          Leave it
        </button>
      </div>
    </form>
  );
}

function Rejected({ finding }: { finding: Finding }) {
  const { record, mayWrite } = useVisit();
  return (
    <li className="flex flex-wrap items-center gap-3 px-4 py-2">
      <div className="min-w-0 flex-1">
        <p className="font-semibold">{finding.name}</p>
        <p className="text-sm">{finding.why_not}</p>
      </div>
      {mayWrite && finding.rejection && (
        <button
          type="button"
          className="btn btn-ghost touch"
          onClick={() => void record("withdrawal", {}, { replaces: finding.rejection ?? "" })}
        >
          Put it back
        </button>
      )}
    </li>
  );
}
