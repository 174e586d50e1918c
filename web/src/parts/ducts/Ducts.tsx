import { Download, Plus, Volume2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { fromEither } from "../../core/core";
import { useVisit } from "../../logbook/context";
import { Figure } from "../../shell/Figure";
import { Choices, FileButton } from "../../shell/fields";
import { useWidth } from "../../shell/useWidth";
import { type MarkName, VerdictMark } from "../../shell/VerdictMark";
import { useUnits } from "../../units/UnitSystem";
import { inWords, say, show } from "../../units/units";
import { BranchDetail } from "./BranchDetail";
import { deviationTint, HEAD, inOrder, layoutOf, ROW, shareTint, type Tinted } from "./layout";
import { PieceForm } from "./PieceForm";
import { TakenOver } from "./TakenOver";
import { UnitForm } from "./UnitForm";
import { type BranchLine, called, type Page, type TrunkLine, WithDucts } from "./useDucts";

/** The tree while it is walked, how the air divides in it, and why a room gets too little. */
export default function Ducts() {
  return <WithDucts>{(ducts) => <Walk ducts={ducts} />}</WithDucts>;
}

type Open = { add: "branch" | "trunk" } | { correct: string } | { branch: string } | undefined;

function Walk({ ducts }: { ducts: Page }) {
  const { mayWrite } = useVisit();
  const { system } = useUnits();
  const [open, setOpen] = useState<Open>();
  const branches = ducts.branches ?? [];
  const trunks = ducts.trunks ?? [];
  const close = () => setOpen(undefined);
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (open) place.current?.scrollIntoView({ block: "start" });
  }, [open]);
  const line = open && "branch" in open ? branches.find((each) => each.piece.id === open.branch) : undefined;
  const wrong = open && "correct" in open ? open.correct : undefined;
  const corrected = [...trunks, ...branches].find((each) => each.piece.id === wrong)?.piece;
  return (
    <div className="space-y-4">
      {branches.length === 0 && (
        <p className="text-lg">
          Walk the trunk from the unit outwards. Note each branch as you meet it: size, length, where it goes.
        </p>
      )}
      {(ducts.troubles ?? []).map((trouble) => (
        <p
          key={`${trouble.piece}${trouble.sentence.text}`}
          className="border-accent border-l-4 bg-base-200 p-3"
        >
          {say(trouble.sentence, system)}{" "}
          {mayWrite && (
            <button type="button" className="link" onClick={() => setOpen({ correct: trouble.piece })}>
              Correct it
            </button>
          )}
        </p>
      ))}
      {ducts.trouble && branches.length > 0 && <p className="font-semibold">{say(ducts.trouble, system)}</p>}
      {ducts.total && <Whole ducts={ducts} />}
      <Next ducts={ducts} />
      <div ref={place} className="scroll-mt-2 empty:hidden">
        {open && "add" in open && <PieceForm key={open.add} ducts={ducts} what={open.add} done={close} />}
        {corrected && (
          <PieceForm
            key={corrected.id}
            ducts={ducts}
            what={"room" in corrected ? "branch" : "trunk"}
            piece={corrected}
            done={close}
          />
        )}
        {line && (
          <BranchDetail line={line} correct={() => setOpen({ correct: line.piece.id })} close={close} />
        )}
      </div>
      {mayWrite && !(open && "add" in open) && (
        <div className="flex flex-wrap gap-2">
          <button
            type="button"
            className="btn btn-primary touch text-base"
            onClick={() => setOpen({ add: "branch" })}
          >
            <Plus size={18} aria-hidden="true" /> Branch
          </button>
          <button type="button" className="btn touch text-base" onClick={() => setOpen({ add: "trunk" })}>
            <Plus size={18} aria-hidden="true" /> Trunk
          </button>
        </div>
      )}
      {(branches.length > 0 || trunks.length > 0) && (
        <Tree
          trunks={trunks}
          branches={branches}
          choose={(id) => setOpen({ branch: id })}
          correct={(id) => setOpen({ correct: id })}
        />
      )}
      <UnitForm ducts={ducts} />
      <InAndOut ducts={ducts} />
    </div>
  );
}

/** The blower's air, and what it works against. */
function Whole({ ducts }: { ducts: Page }) {
  const { system } = useUnits();
  return (
    <section aria-label="At the unit" className="space-y-1">
      <div className="flex flex-wrap items-end gap-x-8 gap-y-2">
        {ducts.total && (
          <div>
            <p>Air at the blower</p>
            <Figure quantity={ducts.total} size="large" />
          </div>
        )}
        {ducts.plenum && (
          <div>
            <p>Supply plenum</p>
            <Figure quantity={ducts.plenum} />
          </div>
        )}
        {ducts.external && (
          <div>
            <p>Blower works against</p>
            <Figure quantity={ducts.external} />
          </div>
        )}
        {ducts.lost && (
          <div>
            <p>Lost through seams</p>
            <Figure quantity={ducts.lost} />
          </div>
        )}
      </div>
      {(ducts.notes ?? []).map((note) => (
        <p key={note.text} className="font-semibold">
          {say(note, system)}
        </p>
      ))}
      <p className="text-sm quiet">
        {ducts.blower && say(ducts.blower, system)} {ducts.return_side && say(ducts.return_side, system)}
      </p>
    </section>
  );
}

/** What to read next, the most telling first. */
function Next({ ducts }: { ducts: Page }) {
  const { openStation, mayWrite, phase } = useVisit();
  const { system } = useUnits();
  const [first, ...others] = ducts.next ?? [];
  if (!first || !mayWrite) return null;
  const read = (station: string) => openStation(station, phase === "as_left" ? "prove" : "measure");
  return (
    <section aria-label="Read next" className="border-primary border-l-4 bg-base-200 p-3">
      <p className="text-lg">
        Read next:{" "}
        {first.station ? (
          <button
            type="button"
            className="-my-3 py-3 font-semibold underline"
            onClick={() => read(first.station)}
          >
            {first.name}
          </button>
        ) : (
          <b>{first.name}</b>
        )}
        . {say(first.sentence, system)}
      </p>
      {others.length > 0 && <p className="text-sm">Then: {others.map((each) => each.name).join("; ")}.</p>}
    </section>
  );
}

const flowOf = (line: BranchLine | TrunkLine): number =>
  line.airflow?.value ??
  (line.piece.diameter_m ?? Math.sqrt((line.piece.width_m ?? 0.1) * (line.piece.height_m ?? 0.1))) ** 2;

const TINTED: Record<Tinted, string> = { share: "Share of design", room: "Room temperature" };
const LEGEND: Record<Tinted, string> = {
  share: "Clay: under 90 % of its design; slate: over 110 %.",
  room: "Clay: warmer than wanted; slate: colder; pale: not surveyed.",
};

/** Our path fanned out: width by flow, tint by share of design or by how far the room is off; a row for each room. */
function Tree({
  trunks,
  branches,
  choose,
  correct,
}: {
  trunks: TrunkLine[];
  branches: BranchLine[];
  choose: (id: string) => void;
  correct: (id: string) => void;
}) {
  const { system } = useUnits();
  const known = branches.every((line) => line.airflow);
  const bare = (line: TrunkLine | BranchLine) => ({
    id: line.piece.id,
    after: line.piece.after,
    flow: known || !("room" in line.piece) ? flowOf(line) : flowOf({ ...line, airflow: null }),
  });
  const surveyed = branches.some((line) => line.deviation);
  const [wanted, setTinted] = useState<Tinted>("share");
  const tinted = surveyed ? wanted : "share";
  const [spot, room] = useWidth<HTMLElement>(300, 1200);
  const narrow = room < 560;
  const drawn = layoutOf(
    trunks.map((line) => ({ ...bare(line), flow: known ? flowOf(line) : 0 })),
    branches.map(bare),
    narrow,
  );
  const order = inOrder(trunks.map(bare), branches.map(bare)).branches;
  const lines = new Map(branches.map((line) => [line.piece.id, line]));
  return (
    <section aria-label="Duct tree" ref={spot}>
      {trunks.length > 0 && (
        <ul className="flex flex-wrap gap-2 pb-2">
          {trunks.map((line, index) => (
            <li key={line.piece.id}>
              <button
                type="button"
                className="btn touch h-auto flex-wrap justify-start py-1 text-left font-normal"
                onClick={() => correct(line.piece.id)}
              >
                {line.piece.name || `Trunk ${index + 1}`}: {sizeOf(line.piece, system)}
                {line.velocity && (
                  <span className={line.loud ? "font-semibold text-error" : "quiet"}>
                    {inWords(line.velocity.value, "velocity", system)}
                  </span>
                )}
              </button>
            </li>
          ))}
        </ul>
      )}
      {surveyed && (
        <div className="pb-2 print:hidden">
          <Choices label="Tinted by" options={TINTED} value={tinted} onChange={setTinted} />
        </div>
      )}
      <div className="relative" style={{ minHeight: drawn.height }}>
        <svg
          width={drawn.width}
          height={drawn.height}
          className="absolute top-0 left-0"
          role="img"
          aria-label={`${trunks.length} trunks and ${branches.length} branches`}
        >
          <path
            d={`M12 4 V${drawn.height - ROW / 2}`}
            stroke="#8fabb5"
            strokeWidth={trunks.length ? 0 : 34}
            opacity={0.4}
          />
          {drawn.runs.map((run) => (
            <g key={run.id}>
              {run.before && (
                <path
                  d={`M${run.before.x} ${run.before.y} H${run.x}`}
                  stroke="#8fabb5"
                  strokeWidth={run.width}
                />
              )}
              <path
                d={`M${run.x} ${run.from} V${run.to}`}
                stroke="#8fabb5"
                strokeWidth={run.width}
                strokeLinecap="round"
              />
            </g>
          ))}
          {drawn.rows.map((row) => (
            <path
              key={row.id}
              d={`M${row.x} ${row.y} H${drawn.width}`}
              stroke={
                tinted === "room"
                  ? deviationTint(lines.get(row.id)?.deviation?.value)
                  : shareTint(lines.get(row.id)?.share?.value)
              }
              strokeWidth={row.width}
              {...(lines.get(row.id)?.read ? {} : { strokeDasharray: "7 3" })}
            />
          ))}
        </svg>
        <ul style={{ paddingLeft: drawn.width, paddingTop: HEAD }}>
          {order.map(({ id }) => {
            const line = lines.get(id);
            return line ? (
              <li key={id} style={{ height: ROW }} className="py-0.5">
                <RoomRow line={line} narrow={narrow} tinted={tinted} choose={() => choose(id)} />
              </li>
            ) : null;
          })}
        </ul>
      </div>
      <p className="pt-1 text-sm quiet">Width: air. {LEGEND[tinted]} Broken: not read yet, worked out.</p>
    </section>
  );
}

const sizeOf = (piece: TrunkLine["piece"] | BranchLine["piece"], system: "SI" | "US"): string =>
  piece.diameter_m
    ? inWords(piece.diameter_m, "depth", system)
    : `${inWords(piece.width_m ?? 0, "depth", system)} × ${inWords(piece.height_m ?? 0, "depth", system)}`;

function RoomRow({
  line,
  narrow,
  tinted,
  choose,
}: {
  line: BranchLine;
  narrow: boolean;
  tinted: Tinted;
  choose: () => void;
}) {
  const { system } = useUnits();
  const off = line.deviation && signed(line.deviation.value, system);
  const short = tinted === "room" ? off : line.share && inWords(line.share.value, "share", system);
  const shown = line.airflow && show(line.airflow, system);
  return (
    <button
      type="button"
      onClick={choose}
      className={`panel flex h-full w-full items-center text-left hover:border-primary ${narrow ? "gap-1.5 px-1.5" : "gap-3 px-3"}`}
    >
      <VerdictMark mark={line.mark as MarkName} size={18} />
      <span className={`min-w-0 flex-1 ${narrow ? "leading-none" : "leading-tight"}`}>
        <span className={`font-semibold ${narrow ? "line-clamp-2 text-sm leading-none" : "block truncate"}`}>
          {line.piece.room}
        </span>
        <span className={`block truncate text-sm quiet ${narrow ? "pt-0.5 leading-none" : ""}`}>
          {(narrow
            ? [short ?? sizeOf(line.piece, system)]
            : [line.piece.floor, sizeOf(line.piece, system), inWords(line.piece.length_m, "length", system)]
          )
            .filter(Boolean)
            .join(" · ")}
        </span>
      </span>
      {line.loud && !narrow && <Volume2 size={18} aria-label="will be heard" className="text-accent" />}
      {off && !narrow && (
        <span className="whitespace-nowrap text-right text-sm leading-tight">
          <span className="quiet block">room</span>
          <span className="reading">{off}</span>
        </span>
      )}
      {shown && (
        <span className="whitespace-nowrap text-right leading-tight">
          <span className="reading font-semibold text-lg">{shown.value}</span>{" "}
          <span className="text-sm">{shown.unit}</span>
          {line.share && !narrow && (
            <span className="reading block text-sm">
              {inWords(line.share.value, "share", system)} of design
            </span>
          )}
        </span>
      )}
    </button>
  );
}

const signed = (kelvin: number, system: "SI" | "US"): string =>
  `${kelvin > 0 ? "+" : ""}${inWords(kelvin, "temperature_difference", system)}`;

type Tree = Schemas["TreeOut"]["tree"];

/** The tree as a table, out and in; from a sister system. */
function InAndOut({ ducts }: { ducts: Page }) {
  const { page, mayWrite, record } = useVisit();
  const [wrong, setWrong] = useState("");
  const take = async (file: File) => {
    setWrong("");
    try {
      const text = await file.text();
      const tree = await fromEither<Tree>("ducts_table", { text }, async () => {
        const answer = await ask(api.POST("/api/v1/ducts/look", { body: { text } }));
        return answer.tree;
      });
      await record("ducts_taken", { tree, source: file.name.slice(0, 80) });
    } catch (error) {
      setWrong(error instanceof Error ? error.message : "This file can't be read.");
    }
  };
  return (
    <section aria-label="Table" className="space-y-2 print:hidden">
      <div className="flex flex-wrap gap-2">
        {(ducts.branches ?? []).length > 0 && (
          <a className="btn touch" href={`/api/v1/visits/${page.id}/ducts.csv`} download>
            <Download size={18} aria-hidden="true" /> As a table (CSV)
          </a>
        )}
        {(ducts.branches ?? []).length > 0 && (
          <a className="btn touch" href={`/api/v1/visits/${page.id}/ducts.json`} download>
            <Download size={18} aria-hidden="true" /> With zones (JSON)
          </a>
        )}
        {mayWrite && (
          <FileButton
            types={[".csv", "text/csv", ".json", "application/json"]}
            onChosen={(file) => void take(file)}
          >
            Take a table or JSON
          </FileButton>
        )}
        {mayWrite && <TakenOver />}
      </div>
      {wrong && <p role="alert">{wrong}</p>}
    </section>
  );
}

export const nameOf = (ducts: Page, id: string): string => {
  const line = (ducts.branches ?? []).find((each) => each.piece.id === id);
  return line ? called(line.piece) : "";
};
