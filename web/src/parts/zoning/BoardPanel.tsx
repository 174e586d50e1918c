import { useVisit } from "../../logbook/context";
import { Trouble } from "../../logbook/controller";
import { SimulatedScene } from "../../logbook/SimulatedScene";
import { useUnits } from "../../units/UnitSystem";
import { inWords } from "../../units/units";
import { type Board, changeScene, releaseZones, useAskedBoard, useBoard } from "./board";

/** The connected board: its zones as it shows them, what is held; or why there is none. */
export function BoardPanel() {
  const { mayWrite } = useVisit();
  const { data: board } = useBoard();
  const release = useAskedBoard((visit: string, _: undefined) => releaseZones(visit));
  if (!board) return null;
  const held = board.zones?.some((zone) => zone.held) ?? false;
  return (
    <section aria-labelledby="board" className="panel space-y-3 p-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 id="board" className="font-semibold text-lg">
          Zone board{board.board && ` ${board.board}`}
          {board.simulated && <span className="quiet font-normal">, simulated</span>}
        </h2>
        {held && mayWrite && (
          <button type="button" className="btn touch" onClick={() => release.mutate(undefined)}>
            Let all zones go
          </button>
        )}
      </div>
      {!board.connected && <p>{board.words}</p>}
      {board.connected && <Zones board={board} />}
      {(board.not_released ?? []).length > 0 && (
        <p role="alert">
          The board did not let go of: {board.not_released?.join(", ")}. It stays in the ledger.
        </p>
      )}
      <Trouble error={release.error} />
      {board.simulated && mayWrite && <Scene board={board} />}
    </section>
  );
}

const CONTROLS: Record<string, string> = {
  answers: "",
  no_signal: "no signal from its control point",
  battery: "battery low",
};

function Zones({ board }: { board: Board }) {
  const { system } = useUnits();
  return (
    <>
      <ul className="grid gap-2 sm:grid-cols-2">
        {(board.zones ?? []).map((zone) => (
          <li key={zone.zone} className="flex items-baseline gap-2">
            <span className="reading w-6">{zone.number}</span>
            <span className="font-semibold">{zone.name}</span>
            <span>{zone.calls ? "calls" : "rests"},</span>
            <span>{zone.indicator}</span>
            {zone.held && <span className="badge badge-warning">held</span>}
            {CONTROLS[zone.control] && <span className="text-error">{CONTROLS[zone.control]}</span>}
          </li>
        ))}
      </ul>
      {board.volts != null && (
        <p>
          Transformer <span className="reading">{inWords(board.volts, "voltage", system)}</span>
        </p>
      )}
    </>
  );
}

/** What the simulated board plays. */
function Scene({ board }: { board: Board }) {
  const change = useAskedBoard(changeScene);
  return <SimulatedScene name="board" scene={board} change={change.mutate} error={change.error} />;
}
