import { useVisit } from "../logbook/context";
import { TagSign } from "./RibbonBand";
import { type Tag, useTags } from "./tags";
import { tint } from "./tint";

/** The air path on a phone: top to bottom, always in sight at the left edge. */
export function RibbonColumn({ station, open }: { station?: string; open: (station: string) => void }) {
  const { page, shown } = useVisit();
  const tags = useTags();
  const { path } = page.work_up;
  const { ribbon } = shown;
  const tagOf = (id: string | undefined) => tags.find((tag) => tag.station === id);
  return (
    <section aria-label="Air path" className="flex h-full flex-col overflow-y-auto py-1">
      {path.bands.map((band) => (
        <ol key={band.id} className="flex shrink-0 grow flex-col">
          {band.elements.map((element, index) => {
            const segment = ribbon.bands.find((each) => each.band === band.id)?.segments[index];
            const joint = (band.joints ?? []).find((each) => each.at === element.id && each.station);
            return (
              <li key={element.id} className="flex min-h-6 shrink-0 grow flex-col">
                {joint && (
                  <ColumnTag tag={tagOf(joint.station)} here={station === joint.station} open={open} />
                )}
                <div className="flex min-h-6 shrink-0 grow items-stretch">
                  <span className="relative w-4 shrink-0">
                    <span
                      className={`absolute inset-y-0 right-0 ${segment?.dry_bulb ? "" : "bg-base-300"}`}
                      style={{
                        width: `${Math.round(100 * (segment?.share ?? 1))}%`,
                        background: segment?.dry_bulb ? tint(segment.dry_bulb.value) : undefined,
                      }}
                    />
                  </span>
                  {element.station ? (
                    <ColumnTag tag={tagOf(element.station)} here={station === element.station} open={open} />
                  ) : (
                    <span className="self-center truncate pl-1.5 text-xs quiet">{element.name}</span>
                  )}
                </div>
              </li>
            );
          })}
        </ol>
      ))}
      {path.apart.map((id) => (
        <ColumnTag key={id} tag={tagOf(id)} here={station === id} open={open} />
      ))}
      {tags
        .filter((tag) => !tag.core)
        .map((tag) => (
          <ColumnTag key={tag.station} tag={tag} here={station === tag.station} open={open} />
        ))}
    </section>
  );
}

function ColumnTag({
  tag,
  here,
  open,
}: {
  tag: Tag | undefined;
  here: boolean;
  open: (station: string) => void;
}) {
  if (!tag) return null;
  return (
    <button
      type="button"
      className={`touch w-full shrink-0 self-center rounded border px-1 py-0.5 text-left leading-tight ${
        here ? "border-2 border-primary" : tag.trouble ? "border-error" : "border-base-300"
      }`}
      aria-label={`${tag.name}: ${tag.dryBulb || "not read"} ${tag.humidity}`}
      onClick={() => open(tag.station)}
    >
      <span className="flex items-center gap-1 text-xs">
        <TagSign tag={tag} />
        <span className="truncate">{tag.name}</span>
        {tag.waiting > 0 && <span className="size-2 rounded-full bg-warning" title="waits" />}
      </span>
      <span className="reading block font-semibold text-sm">{tag.dryBulb || "–"}</span>
      {tag.humidity && <span className="reading block text-xs quiet">{tag.humidity}</span>}
    </button>
  );
}
