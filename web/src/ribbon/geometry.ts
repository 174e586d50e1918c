/** Where everything of the air path lies, for a given width. Plain numbers; drawing is RibbonBand's. */
import type { Page } from "../logbook/logbook";

type Path = Page["work_up"]["path"];
type Ribbon = Page["work_up"]["phases"][number]["ribbon"];

export const BAND_PX = 40;
const ROW_PX = 142;
const TOP_PX = 44;
const LEFT_PX = 26;
const RIGHT_PX = 26;
const FAN_PX = 150;
const EDGE_PX = 40;

export interface Stretch {
  key: string;
  x: number;
  width: number;
  top: number;
  height: number;
  celsius: number | undefined;
  known: boolean;
}

export interface Placed {
  key: string;
  name: string;
  kind: string;
  x: number;
  y: number;
  /** Drawn on a tinted band, not on hatch. */
  tinted: boolean;
}

export interface Flow {
  key: string;
  name: string;
  path: string;
  width: number;
  celsius: number | undefined;
  known: boolean;
  labelX: number;
  labelY: number;
}

export interface Laid {
  height: number;
  stretches: Stretch[];
  elements: Placed[];
  flows: Flow[];
  branches: Flow[];
  tags: { station: string; x: number; y: number }[];
  /** Branches of each floor, counted, where they end. */
  floors: { key: string; name: string; x: number; y: number }[];
}

export function lay(path: Path, ribbon: Ribbon, width: number): Laid {
  const laid: Laid = {
    height: 0,
    stretches: [],
    elements: [],
    flows: [],
    branches: [],
    tags: [],
    floors: [],
  };
  const rows = path.bands.length;
  const joins = path.bands.some((band) => (band.joints ?? []).length > 0);
  const topMargin = rows > 1 ? 26 : joins ? TOP_PX + 12 : TOP_PX;
  path.bands.forEach((band, row) => {
    const bottom = topMargin + BAND_PX + row * ROW_PX;
    layBand(laid, ribbon, band, bottom, width);
  });
  laid.height = topMargin + BAND_PX + (rows - 1) * ROW_PX + 82;
  path.apart.forEach((station, index) => {
    laid.tags.push({ station, x: width * 0.46 + index * 120, y: laid.height - 76 });
  });
  return laid;
}

function layBand(
  laid: Laid,
  ribbon: Ribbon,
  band: Path["bands"][number],
  bottom: number,
  width: number,
): void {
  const segments = ribbon.bands.find((each) => each.band === band.id)?.segments ?? [];
  const fan = ribbon.branches.length > 0 ? FAN_PX : 0;
  const end = width - RIGHT_PX - fan;
  const xs = places(band, end);
  const middle = (index: number) => xs[index] ?? end;
  band.elements.forEach((element, index) => {
    const segment = segments[index];
    const last = index === band.elements.length - 1;
    const height = BAND_PX * (segment?.share ?? 1);
    laid.stretches.push({
      key: `${band.id}/${element.id}`,
      x: index === 0 ? 4 : middle(index),
      width: (last ? end : middle(index + 1)) - (index === 0 ? 4 : middle(index)),
      top: bottom - height,
      height,
      celsius: segment?.dry_bulb?.value,
      known: segment?.share_known ?? false,
    });
    laid.elements.push({
      key: `${band.id}/${element.id}`,
      name: element.name,
      kind: element.kind,
      x: middle(index),
      y: bottom - BAND_PX / 2,
      tinted: Boolean(segment?.dry_bulb),
    });
    if (element.station) {
      laid.tags.push({ station: element.station, x: middle(index), y: bottom + 6 });
    }
  });
  for (const joint of band.joints ?? []) layJoint(laid, ribbon, band, joint, bottom, middle);
  if (ribbon.branches.length > 0) layBranches(laid, ribbon, end, bottom, segments[segments.length - 1]);
  else laid.flows.push(arrowhead(band.id, end, bottom, segments[segments.length - 1]));
}

/** Where elements stand: room for a tag where there is one, twice that where air joins before it. */
function places(band: Path["bands"][number], end: number): number[] {
  const joined = new Set((band.joints ?? []).filter((joint) => joint.station).map((joint) => joint.at));
  const steps = band.elements.map((element, index): number => {
    if (index === 0) return 0;
    return joined.has(element.id) ? 2.1 : element.station ? 1.1 : 0.75;
  });
  const unit = (end - LEFT_PX - 2 * EDGE_PX) / steps.reduce((sum, step) => sum + step, 0);
  let x = LEFT_PX + EDGE_PX;
  return steps.map((step) => {
    x += step * unit;
    return x;
  });
}

function arrowhead(
  band: string,
  x: number,
  bottom: number,
  segment: Ribbon["bands"][number]["segments"][number] | undefined,
): Flow {
  const top = bottom - BAND_PX;
  return {
    key: `${band}/out`,
    name: "",
    path: `M${x} ${top}L${x + 16} ${(top + bottom) / 2}L${x} ${bottom}Z`,
    width: 0,
    celsius: segment?.dry_bulb?.value,
    known: true,
    labelX: x,
    labelY: top,
  };
}

function layJoint(
  laid: Laid,
  ribbon: Ribbon,
  band: Path["bands"][number],
  joint: NonNullable<Path["bands"][number]["joints"]>[number],
  bottom: number,
  middle: (index: number) => number,
): void {
  const shown = ribbon.joints.find((each) => each.joint === joint.id);
  const share = shown?.share ?? 0.2;
  const thick = Math.max(BAND_PX * share, 3);
  const index = band.elements.findIndex((element) => element.id === joint.at);
  const at = middle(index);
  const inside = bottom - BAND_PX + thick / 2;
  const up = 12;
  if (joint.direction === "around") {
    const to = band.elements.findIndex((element) => element.id === joint.to);
    const [out, back] = [(middle(index - 1) + at) / 2, (at + middle(to)) / 2];
    const rise = up + thick / 2;
    laid.flows.push({
      key: joint.id,
      name: joint.name,
      path: `M${out} ${inside}C${out + 8} ${rise} ${out + 8} ${rise} ${(out + back) / 2} ${rise}C${back - 8} ${rise} ${back - 8} ${rise} ${back} ${inside}`,
      width: thick,
      celsius: shown?.dry_bulb?.value,
      known: shown?.share_known ?? false,
      labelX: back + 4,
      labelY: up + 4,
    });
    return;
  }
  const joins = joint.direction === "joins";
  const reach = joins ? (at - middle(index - 1)) / 2 : (middle(index + 1) - at) / 4;
  const outer = joins ? at - reach : at + reach;
  const bend = reach * 0.75;
  const curve = joins
    ? `M${outer} ${up}C${outer} ${inside} ${outer + bend / 2} ${inside} ${at} ${inside}`
    : `M${at} ${inside}C${outer - bend / 4} ${inside} ${outer} ${inside} ${outer} ${up}`;
  laid.flows.push({
    key: joint.id,
    name: joint.name,
    path: curve,
    width: thick,
    celsius: shown?.dry_bulb?.value,
    known: shown?.share_known ?? false,
    labelX: outer + thick / 2 + 6,
    labelY: up + 8,
  });
  if (joint.station) laid.tags.push({ station: joint.station, x: outer, y: bottom + 6 });
}

function layBranches(
  laid: Laid,
  ribbon: Ribbon,
  end: number,
  bottom: number,
  segment: Ribbon["bands"][number]["segments"][number] | undefined,
): void {
  const floors = [...new Set(ribbon.branches.map((branch) => branch.floor))];
  let offset = bottom - BAND_PX;
  const spread = (ribbon.branches.length - 1) * 8 + (floors.length - 1) * 14;
  let y = bottom - BAND_PX / 2 - spread / 2;
  floors.forEach((floor, floorIndex) => {
    const own = ribbon.branches.filter((branch) => branch.floor === floor);
    const first = y;
    for (const branch of own) {
      const thick = Math.max(BAND_PX * branch.share, 1.5);
      const start = offset + thick / 2;
      offset += BAND_PX * branch.share;
      laid.branches.push({
        key: `${floor}/${branch.room}`,
        name: branch.room,
        path: `M${end} ${start}C${end + 34} ${start} ${end + 30} ${y} ${end + 74} ${y}`,
        width: thick,
        celsius: segment?.dry_bulb?.value,
        known: true,
        labelX: end + 80,
        labelY: (first + y) / 2 + 4,
      });
      y += 8;
    }
    laid.floors.push({
      key: `floor/${floor}`,
      name: `${own.length} ${floor ? floor.toLowerCase() : "branches"}`,
      x: end + 80,
      y: (first + y - 8) / 2 + 5,
    });
    y += floorIndex < floors.length - 1 ? 14 : 0;
  });
}
