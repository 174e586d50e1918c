import { useVisit } from "../../logbook/context";
import { Figure } from "../../shell/Figure";
import { useUnits } from "../../units/UnitSystem";
import { inWords, say } from "../../units/units";
import { Survey } from "./PieceForm";
import { type BranchLine, called } from "./useDucts";

/** One room's way of the air: what it gets, where the pressure goes, what would help; to read, to survey, to correct. */
export function BranchDetail({
  line,
  correct,
  close,
}: {
  line: BranchLine;
  correct: () => void;
  close: () => void;
}) {
  const { openStation, mayWrite, record, phase } = useVisit();
  const { system } = useUnits();
  const piece = line.piece;
  return (
    <section aria-labelledby="branch" className="panel space-y-3 p-4">
      <h2 id="branch" className="font-semibold text-xl">
        {called(piece)}
      </h2>
      <div className="flex flex-wrap items-end gap-x-8 gap-y-2">
        {line.airflow && (
          <div>
            <p>{line.read ? "Air, by its reading" : "Air, worked out"}</p>
            <Figure quantity={line.airflow} size="large" />
          </div>
        )}
        {line.design && (
          <div>
            <p>Design</p>
            <Figure quantity={line.design} />
          </div>
        )}
        {line.share && (
          <div>
            <p>Share of design</p>
            <Figure quantity={line.share} />
          </div>
        )}
        {line.face_velocity && (
          <div>
            <p>At the register's face</p>
            <Figure quantity={line.face_velocity} />
          </div>
        )}
        {line.room && (
          <div>
            <p>Room</p>
            <Figure quantity={line.room} />
          </div>
        )}
      </div>
      {line.finding && (
        <p className="border-accent border-l-4 bg-base-200 p-3">{say(line.finding, system)}</p>
      )}
      {line.drifts && <p>{say(line.drifts, system)}</p>}
      {(line.losses ?? []).length > 0 && (
        <div>
          <h3 className="font-semibold">Where the pressure goes</h3>
          <ul className="space-y-1">
            {(line.losses ?? []).map((loss) => (
              <li key={loss.name} className="grid grid-cols-[9rem_1fr_5rem] items-center gap-2">
                <span>{loss.name}</span>
                <span className="h-3 bg-base-200">
                  <span
                    className="block h-full bg-secondary"
                    style={{ width: `${Math.min(Math.max(loss.share, 0), 1) * 100}%` }}
                  />
                </span>
                <span className="reading text-right">{inWords(loss.loss.value, "pressure", system)}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
      {(line.remedies ?? []).length > 0 && (
        <div>
          <h3 className="font-semibold">What would bring it more</h3>
          <ul className="divide-y divide-base-300">
            {(line.remedies ?? []).map((remedy) => (
              <li key={remedy.sentence.text} className="flex justify-between gap-3 py-1.5">
                <span>{say(remedy.sentence, system)}</span>
                <span className="reading whitespace-nowrap">
                  {inWords(remedy.airflow.value, "airflow", system)}
                  {remedy.share && `, ${inWords(remedy.share.value, "share", system)}`}
                </span>
              </li>
            ))}
          </ul>
        </div>
      )}
      {mayWrite && <Survey branch={piece} done={() => {}} />}
      <div className="flex flex-wrap gap-2">
        {mayWrite && (
          <>
            <button
              type="button"
              className="btn btn-primary touch"
              onClick={() => openStation(line.station, phase === "as_left" ? "prove" : "measure")}
            >
              Read its register
            </button>
            <button type="button" className="btn touch" onClick={correct}>
              Correct it
            </button>
            <button
              type="button"
              className="btn touch"
              onClick={() => {
                close();
                void record("duct_gone", { id: piece.id });
              }}
            >
              Take it out
            </button>
          </>
        )}
        <button type="button" className="btn touch" onClick={close}>
          Close
        </button>
      </div>
    </section>
  );
}
