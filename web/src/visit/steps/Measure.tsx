import { FileDown, FileUp, Radio, Scale } from "lucide-react";
import { Trends } from "../../live/Trends";
import { useLive } from "../../live/useLive";
import { useVisit } from "../../logbook/context";
import { useUnits } from "../../units/UnitSystem";
import { WholeVisit } from "./Settle";
import { MoreStations, StationCards } from "./StationCards";

export function Measure() {
  const { page } = useVisit();
  const { on } = useLive();
  const left = page.work_up.route.find((step) => step.id === "measure")?.left ?? [];
  return (
    <div className="space-y-3">
      {left.length > 0 && (
        <p>
          <span className="font-semibold">Still to read:</span> {left.join(". ")}.
        </p>
      )}
      <Tools />
      {on && <WholeVisit />}
      <StationCards phase="as_found" />
      <MoreStations />
      {on && <Trends />}
    </div>
  );
}

/** Probes, match, logger files; and what goes out. */
function Tools() {
  const { page, openTool, mayWrite } = useVisit();
  const { on } = useLive();
  const { system } = useUnits();
  const out = `/api/v1/visits/${String(page.id)}`;
  const how = `?units=${system}&offset_min=${-new Date().getTimezoneOffset()}`;
  return (
    <div className="flex flex-wrap gap-2">
      {on && (
        <button type="button" className="btn touch" onClick={() => openTool("probes")}>
          <Radio size={18} aria-hidden="true" /> Live probes
        </button>
      )}
      {(on || mayWrite) && (
        <button type="button" className="btn touch" onClick={() => openTool("match")}>
          <Scale size={18} aria-hidden="true" /> Match probes
        </button>
      )}
      {mayWrite && (
        <button type="button" className="btn touch" onClick={() => openTool("file")}>
          <FileUp size={18} aria-hidden="true" /> Logger file
        </button>
      )}
      <a className="btn btn-ghost touch" href={`${out}/readings.csv${how}`} download>
        <FileDown size={18} aria-hidden="true" /> Readings as CSV
      </a>
      <a className="btn btn-ghost touch" href={`${out}/samples.csv${how}`} download>
        <FileDown size={18} aria-hidden="true" /> Samples as CSV
      </a>
    </div>
  );
}
