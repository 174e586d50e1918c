import { useVisit } from "../context";
import { StationCards } from "./StationCards";

export function Measure() {
  const { page } = useVisit();
  const left = page.work_up.route.find((step) => step.id === "measure")?.left ?? [];
  return (
    <div className="space-y-3">
      {left.length > 0 && (
        <p>
          <span className="font-semibold">Still to read:</span> {left.join(". ")}.
        </p>
      )}
      <StationCards phase="as_found" />
    </div>
  );
}
