import { CalendarPlus, Check, Printer } from "lucide-react";
import { useForm } from "react-hook-form";
import { useVisit } from "../../logbook/context";
import { Figure } from "../../shell/Figure";
import { Choices, FormNumber, numberRule } from "../../shell/fields";
import { WideTable } from "../../shell/WideTable";
import { useUnits } from "../../units/UnitSystem";
import { inWords, say, siOf } from "../../units/units";
import { called, type Page, type Plan, type Position, type RoomBranch, WithDucts } from "./useDucts";

const SEASONS = { cooling: "Cooling season", heating: "Heating season" };

/** The balance plan: handles in order, what to read after each, where every room ends. */
export default function Balance() {
  return <WithDucts>{(ducts) => <Plans ducts={ducts} />}</WithDucts>;
}

function Plans({ ducts }: { ducts: Page }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  const plan = ducts.plan;
  return (
    <div className="space-y-4">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <Choices
          label="Season"
          options={SEASONS}
          value={ducts.season}
          disabled={!mayWrite}
          onChange={(season) => void record("balance_season", { season: season as Page["season"] })}
        />
        {plan?.design_by && <Out />}
      </div>
      {!plan && (
        <p className="text-lg">
          {ducts.trouble ? say(ducts.trouble, system) : "Note the branches first, on the page Ducts."}
        </p>
      )}
      {plan && !plan.design_by && <Lacking plan={plan} ducts={ducts} />}
      {plan?.design_by && <Planned ducts={ducts} plan={plan} />}
      {ducts.thermostats && <p className="panel p-3">{say(ducts.thermostats, system)}</p>}
    </div>
  );
}

/** A sheet to take along, and a reminder at the change of season. */
function Out() {
  const { page } = useVisit();
  return (
    <div className="flex flex-wrap gap-2 print:hidden">
      <button type="button" className="btn touch" onClick={() => window.print()}>
        <Printer size={18} aria-hidden="true" /> Print the sheet
      </button>
      <a className="btn touch" href={`/api/v1/visits/${page.id}/season.ics`} download>
        <CalendarPlus size={18} aria-hidden="true" /> Reminder (iCalendar)
      </a>
    </div>
  );
}

function Lacking({ plan, ducts }: { plan: Plan; ducts: Page }) {
  const { mayWrite } = useVisit();
  return (
    <div className="space-y-3">
      <p className="text-lg">
        To plan, each room needs a design airflow, or its load, or at least its floor area. Still missing:{" "}
        {(plan.lacking ?? []).join("; ")}.
      </p>
      {mayWrite && <Designs ducts={ducts} />}
    </div>
  );
}

/** What each room should get, all in one list. */
function Designs({ ducts }: { ducts: Page }) {
  const { record } = useVisit();
  const { system } = useUnits();
  const branches = (ducts.branches ?? []).map((line) => line.piece);
  const field = ducts.season === "cooling" ? "cooling_design_m3s" : "heating_design_m3s";
  const { control, handleSubmit } = useForm<Record<string, string>>({
    defaultValues: Object.fromEntries(branches.map((branch) => [branch.id, ""])),
  });
  const send = handleSubmit(async (typed) => {
    const given = branches.filter((branch) => typed[branch.id]?.trim());
    for (const branch of given) {
      await record("duct_branch", { ...branch, [field]: siOf(typed[branch.id] ?? "", "airflow", system) });
    }
  });
  return (
    <form onSubmit={send} noValidate className="panel space-y-3 p-4">
      <div className="grid gap-3 sm:grid-cols-2 wide:grid-cols-3">
        {branches
          .filter((branch) => !branch[field])
          .map((branch) => (
            <FormNumber
              key={branch.id}
              control={control}
              name={branch.id}
              label={called(branch)}
              kind="airflow"
              rules={numberRule("airflow", system, (si) => si > 0 || "A number above zero.", {
                optional: true,
              })}
            />
          ))}
      </div>
      <button type="submit" className="btn btn-primary touch">
        Keep the design
      </button>
    </form>
  );
}

function Planned({ ducts, plan }: { ducts: Page; plan: Plan }) {
  const { system } = useUnits();
  const branches = new Map((ducts.branches ?? []).map((line) => [line.piece.id, line]));
  const name = (id: string) => {
    const line = branches.get(id);
    return line ? called(line.piece) : "";
  };
  const turns = plan.turns ?? [];
  const [first, ...others] = turns;
  return (
    <>
      <p className="text-2xl leading-snug">
        {plan.even && turns.length === 0
          ? "All rooms are within 5 % of each other. Nothing to turn."
          : first
            ? `${turns.length} ${turns.length === 1 ? "handle" : "handles"} to turn. ${name(plan.stays_open ?? "")} stays open.`
            : "No handle brings the rooms nearer to each other."}
      </p>
      <p className="quiet">
        Design {plan.design_words}; {plan.read ?? 0} register readings.
        {plan.share &&
          ` Every room that can be trimmed ends at ${inWords(plan.share.value, "share", system)} of its design.`}
      </p>
      {first && <Turn key={first.branch} turn={first} piece={branches.get(first.branch)?.piece} />}
      {others.length > 0 && (
        <section aria-label="Then">
          <h2 className="font-semibold text-lg">Then, nearest the blower first</h2>
          <ol className="panel divide-y divide-base-300">
            {others.map((turn) => (
              <li
                key={turn.branch}
                className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 p-3"
              >
                <span className="font-semibold">{name(turn.branch)}</span>
                <span>{positionWords(turn.by, turn.to)}</span>
                <span className="quiet">then reads {inWords(turn.airflow.value, "airflow", system)}</span>
              </li>
            ))}
          </ol>
        </section>
      )}
      {(plan.notes ?? []).map((note) => (
        <p
          key={`${note.text}${JSON.stringify(note.numbers)}`}
          className="border-accent border-l-4 bg-base-200 p-3"
        >
          {say(note, system)}
        </p>
      ))}
      <Rooms ducts={ducts} plan={plan} name={name} />
      <dl className="flex flex-wrap gap-x-8 gap-y-2">
        <Before label="Air at the blower" before={plan.total_before} after={plan.total_after} />
        <Before label="Blower works against" before={plan.external_before} after={plan.external_after} />
      </dl>
    </>
  );
}

const percent = (share: number) => `${Math.round(share * 100)} %`;

const positionWords = (by: string, to: Position): string =>
  by === "damper"
    ? to.damper_deg === 0
      ? "damper open"
      : `damper ${Math.round(to.damper_deg)}° from open`
    : to.register_open === 1
      ? "register open"
      : `register open by ${percent(to.register_open)}`;

/** The handle to turn now: where to, and what its register should read then. */
function Turn({ turn, piece }: { turn: NonNullable<Plan["turns"]>[number]; piece: RoomBranch | undefined }) {
  const { record, mayWrite } = useVisit();
  const { system } = useUnits();
  if (!piece) return null;
  const turned = () =>
    record(
      "damper_turned",
      {
        branch: turn.branch,
        damper_deg: turn.to.damper_deg,
        register_open: turn.to.register_open,
        was_deg: turn.was.damper_deg,
        was_open: turn.was.register_open,
      },
      { phase: "as_left" },
    );
  return (
    <section aria-label="Turn now" className="panel flex flex-wrap items-center gap-4 border-primary p-4">
      <Dial by={turn.by} to={turn.to} />
      <div className="min-w-0 flex-1">
        <p className="text-lg">{called(piece)}</p>
        <p className="font-semibold text-3xl">{positionWords(turn.by, turn.to)}</p>
        <p className="quiet">
          Was: {positionWords(turn.by, turn.was)}. Its register should then read{" "}
          {inWords(turn.airflow.value, "airflow", system)}.
        </p>
      </div>
      {mayWrite && (
        <button type="button" className="btn btn-primary touch text-base" onClick={() => void turned()}>
          <Check size={18} aria-hidden="true" /> Turned
        </button>
      )}
    </section>
  );
}

/** The handle as it should stand: along the duct is open. */
function Dial({ by, to }: { by: string; to: Position }) {
  const angle = by === "damper" ? to.damper_deg : 0;
  return (
    <svg width={96} height={72} viewBox="0 0 96 72" role="img" aria-label={positionWords(by, to)}>
      <path d="M4 14 H92 M4 58 H92" stroke="currentColor" strokeWidth={3} />
      {by === "damper" ? (
        <g transform={`rotate(${-angle} 48 36)`}>
          <path d="M20 36 H76" stroke="var(--color-primary)" strokeWidth={6} strokeLinecap="round" />
          <circle cx={48} cy={36} r={6} fill="var(--color-primary)" />
        </g>
      ) : (
        [0, 1, 2, 3, 4].map((slat) => (
          <path
            key={slat}
            d={`M${12 + slat * 18} ${36 - 16 * to.register_open} V${36 + 16 * to.register_open}`}
            stroke="var(--color-primary)"
            strokeWidth={6}
          />
        ))
      )}
    </svg>
  );
}

function Rooms({ ducts, plan, name }: { ducts: Page; plan: Plan; name: (id: string) => string }) {
  const { system } = useUnits();
  const planned = new Map((plan.branches ?? []).map((each) => [each.branch, each]));
  return (
    <WideTable label="Rooms">
      <table className="table">
        <caption className="sr-only">Rooms: share of design as found, now and by the plan</caption>
        <thead>
          <tr>
            <th scope="col">Room</th>
            <th scope="col">Design</th>
            <th scope="col">As found</th>
            <th scope="col">Now</th>
            <th scope="col">By the plan</th>
            <th scope="col">Mark on the handle</th>
          </tr>
        </thead>
        <tbody>
          {(ducts.branches ?? []).map((line) => {
            const end = planned.get(line.piece.id);
            const by = line.piece.damper === "blade" ? "damper" : "register";
            return (
              <tr key={line.piece.id}>
                <th scope="row">{name(line.piece.id)}</th>
                <td className="reading">{line.design && inWords(line.design.value, "airflow", system)}</td>
                <td className="reading">
                  {line.share_before && inWords(line.share_before.value, "share", system)}
                </td>
                <td className="reading font-semibold">
                  {line.share && inWords(line.share.value, "share", system)}
                </td>
                <td className="reading">{end && inWords(end.share.value, "share", system)}</td>
                <td>{end && positionWords(by, end.to)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </WideTable>
  );
}

function Before({
  label,
  before,
  after,
}: {
  label: string;
  before: Plan["total_before"];
  after: Plan["total_after"];
}) {
  const { system } = useUnits();
  if (!before || !after) return null;
  return (
    <div>
      <dt>{label}</dt>
      <dd>
        <Figure quantity={after} />{" "}
        <span className="quiet">now {inWords(before.value, before.kind, system)}</span>
      </dd>
    </div>
  );
}
