import { Unplug } from "lucide-react";
import { useMemo } from "react";
import { StateSign } from "../live/LiveMark";
import { useVisit } from "../logbook/context";
import { PHASE_NAMES } from "../logbook/logbook";
import { ScrollRow } from "../shell/ScrollRow";
import { useWidth } from "../shell/useWidth";
import { BAND_PX, type Flow, lay, type Stretch } from "./geometry";
import { ElementSign } from "./signs";
import { type Tag, useTags } from "./tags";
import { tint } from "./tint";

/** Half of the widest tag, and a little: no tag stands over an edge. */
const TAG_HALF_PX = 80;
const NARROWEST_PX = 560;

/** The air going through this system, left to right: width is flow, tint is temperature, hatch is not measured yet. */
export function RibbonBand({ station, open }: { station?: string; open: (station: string) => void }) {
  const { page, shown } = useVisit();
  const [place, measured] = useWidth<HTMLDivElement>(812);
  const width = Math.max(NARROWEST_PX, measured);
  const { path } = page.work_up;
  const { ribbon } = shown;
  const laid = useMemo(() => lay(path, ribbon, width), [path, ribbon, width]);
  const tags = useTags();
  const others = tags.filter((tag) => !tag.core);
  return (
    <section aria-label="Air path">
      <div ref={place} className="relative" style={{ height: laid.height }}>
        <svg width={width} height={laid.height} className="block" aria-hidden="true">
          <defs>
            <pattern
              id="unmeasured"
              width="7"
              height="7"
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(45)"
            >
              <rect width="7" height="7" className="fill-base-200" />
              <rect width="2" height="7" className="fill-base-300" />
            </pattern>
          </defs>
          {laid.flows
            .filter((flow) => flow.width > 0)
            .map((flow) => (
              <Stream key={flow.key} flow={flow} />
            ))}
          {laid.branches.map((flow) => (
            <Stream key={flow.key} flow={flow} />
          ))}
          {laid.stretches.map((stretch) => (
            <Part key={stretch.key} stretch={stretch} />
          ))}
          {laid.flows
            .filter((flow) => flow.width === 0)
            .map((flow) => (
              <path key={flow.key} d={flow.path} fill={fill(flow.celsius)} />
            ))}
          {laid.elements.map((element) => (
            <g key={element.key} transform={`translate(${element.x} ${element.y})`}>
              <ElementSign kind={element.kind} height={BAND_PX} tinted={element.tinted} />
              <text y={-BAND_PX / 2 - 8} textAnchor="middle" className="fill-base-content text-[13px]">
                {element.name}
              </text>
            </g>
          ))}
          {laid.flows.map((flow) => (
            <text key={flow.key} x={flow.labelX} y={flow.labelY} className="fill-base-content text-[13px]">
              {flow.name}
            </text>
          ))}
          {laid.floors.map((floor) => (
            <text key={floor.key} x={floor.x} y={floor.y} className="fill-base-content text-[13px]">
              {floor.name}
            </text>
          ))}
        </svg>
        {laid.tags.map((at) => {
          const tag = tags.find((each) => each.station === at.station);
          return (
            tag && (
              <div
                key={at.station}
                className="absolute w-max -translate-x-1/2"
                style={{ left: Math.min(Math.max(at.x, TAG_HALF_PX), width - TAG_HALF_PX), top: at.y }}
              >
                <StationTag tag={tag} here={station === at.station} open={open} />
              </div>
            )
          );
        })}
        {page.work_up.phases.length > 1 && (
          <span className="absolute top-1 right-2 text-sm quiet">{PHASE_NAMES[shown.phase]}</span>
        )}
      </div>
      {others.length > 0 && (
        <ScrollRow legend="More stations in use" className="border-base-300 border-t">
          {others.map((tag) => (
            <MoreTag key={tag.station} tag={tag} here={station === tag.station} open={open} />
          ))}
        </ScrollRow>
      )}
    </section>
  );
}

export const fill = (celsius: number | undefined): string =>
  celsius === undefined ? "url(#unmeasured)" : tint(celsius);

function Part({ stretch }: { stretch: Stretch }) {
  return (
    <rect
      x={stretch.x}
      y={stretch.top}
      width={stretch.width + 0.5}
      height={stretch.height}
      fill={fill(stretch.celsius)}
      className="stroke-base-300"
      strokeWidth={stretch.celsius === undefined ? 1 : 0}
    />
  );
}

function Stream({ flow }: { flow: Flow }) {
  const colour = flow.celsius === undefined ? "var(--color-base-300)" : tint(flow.celsius);
  return (
    <path
      d={flow.path}
      fill="none"
      stroke={colour}
      strokeWidth={flow.width}
      strokeDasharray={flow.known || flow.name === "" || flow.width < 6 ? undefined : "10 3"}
    />
  );
}

/** A station beyond the air path's own: one line, so that many fit. */
export function MoreTag({ tag, here, open }: { tag: Tag; here: boolean; open: (station: string) => void }) {
  return (
    <button
      type="button"
      className={`touch flex shrink-0 items-center gap-1.5 rounded border bg-base-100 px-2 text-sm hover:border-primary ${
        here ? "border-2 border-primary" : tag.trouble ? "border-error" : "border-base-300"
      }`}
      aria-label={`${tag.name}: ${tag.dryBulb || "not read"}`}
      data-testid={`tag-${tag.station}`}
      onClick={() => open(tag.station)}
    >
      <TagSign tag={tag} />
      {tag.name}
      <span className="reading font-semibold">{tag.dryBulb || "–"}</span>
    </button>
  );
}

/** Steady, still moving, or out of reach: of the probe that hangs here. */
export function TagSign({ tag }: { tag: Tag }) {
  if (tag.live === "lost") return <Unplug size={15} className="text-error" aria-label="probe out of reach" />;
  if (tag.live) return <StateSign state={tag.live} size={15} />;
  return null;
}

export function StationTag({
  tag,
  here,
  open,
}: {
  tag: Tag;
  here: boolean;
  open: (station: string) => void;
}) {
  const edge = here ? "border-primary border-2" : tag.trouble ? "border-error" : "border-base-300";
  const apart = tag.apart ? "border-dashed" : "";
  return (
    <button
      type="button"
      className={`touch min-w-[92px] rounded border bg-base-100 px-2 py-1 text-center leading-tight hover:border-primary ${edge} ${apart}`}
      title="Read here (r)"
      aria-label={`${tag.name}: ${tag.dryBulb || "not read"} ${tag.humidity}`}
      data-testid={`tag-${tag.station}`}
      onClick={() => open(tag.station)}
    >
      <span className="flex items-center justify-center gap-1 text-sm">
        <TagSign tag={tag} />
        {tag.name}
        {tag.early && <span className="text-xs quiet">early</span>}
        {tag.waiting > 0 && (
          <span className="rounded bg-warning px-1 text-warning-content text-xs">waits</span>
        )}
      </span>
      {tag.dryBulb ? (
        <>
          <span className="reading block font-semibold text-lg">{tag.dryBulb}</span>
          <span className="reading block text-xs quiet">
            {[tag.plusMinus, tag.humidity].filter(Boolean).join("  ")}
          </span>
        </>
      ) : (
        <span className="block text-sm quiet">{tag.needed ? "read here" : "not read"}</span>
      )}
    </button>
  );
}
