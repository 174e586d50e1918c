import { ChevronsDown } from "lucide-react";
import { ScrollRow } from "../shell/ScrollRow";
import { MoreTag } from "./RibbonBand";
import { useTags } from "./tags";

/** The air path while the bench is scrolled: its readings in one line, in the order of the air. */
export function RibbonFolded({
  station,
  open,
  unfold,
}: {
  station: string | undefined;
  open: (station: string) => void;
  unfold: () => void;
}) {
  const tags = useTags();
  return (
    <section aria-label="Air path" className="flex items-stretch">
      <button
        type="button"
        className="btn btn-ghost touch shrink-0 rounded-none px-3"
        aria-label="Show the whole air path"
        title="Show the whole air path"
        onClick={unfold}
      >
        <ChevronsDown size={20} aria-hidden="true" />
      </button>
      <div className="min-w-0 flex-1">
        <ScrollRow legend="Stations in the order of the air">
          {tags.map((tag) => (
            <MoreTag key={tag.station} tag={tag} here={station === tag.station} open={open} />
          ))}
        </ScrollRow>
      </div>
    </section>
  );
}
