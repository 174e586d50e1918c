/** A piece of duct as it is typed, in the user's units, and as it is noted. */
import { asTypedExactly, type System, typedSi } from "../../units/units";
import type { RoomBranch, Trunk } from "./useDucts";

/** Numbers of a piece, each with its kind of quantity. */
export const NUMBERS = {
  diameter_m: "depth",
  width_m: "depth",
  height_m: "depth",
  length_m: "length",
  compressed: "share",
  more_loss: "ratio",
  damper_deg: "ratio",
  register_pa: "pressure",
  register_m3s: "airflow",
  register_open: "share",
  face_area_m2: "duct_area",
  cooling_design_m3s: "airflow",
  heating_design_m3s: "airflow",
  room_load_w: "power",
  floor_area_m2: "area",
} as const;

/** What a piece leaves that leaves no trunk. */
export const PLENUM = "plenum";

export type NumberName = keyof typeof NUMBERS;

export interface Typed extends Record<NumberName, string> {
  after: string;
  name: string;
  room: string;
  floor: string;
  shape: "round" | "sides";
  wall: "metal" | "lined" | "flexible";
  damper: "none" | "blade" | "inflatable";
  quiet: "yes" | "no";
}

/** Quick choices of a round duct [m], by what is sold in each system. */
export const ROUNDS: Record<System, number[]> = {
  SI: [0.1, 0.125, 0.15, 0.18, 0.2, 0.25],
  US: [4, 5, 6, 7, 8, 10].map((inches) => inches * 0.0254),
};

/** What stands in the form at first: of a piece, or of the last one without its room and length. */
export function typedOf(piece: Partial<RoomBranch> & Partial<Trunk>, system: System): Typed {
  const numbers = Object.fromEntries(
    Object.entries(NUMBERS).map(([name, kind]) => [
      name,
      asTypedExactly(piece[name as NumberName], kind, system),
    ]),
  ) as Record<NumberName, string>;
  return {
    ...numbers,
    compressed: piece.compressed ? numbers.compressed : "",
    more_loss: piece.more_loss ? numbers.more_loss : "",
    damper_deg: piece.damper_deg ? numbers.damper_deg : "",
    register_open:
      piece.register_open === undefined || piece.register_open === 1 ? "" : numbers.register_open,
    after: piece.after || PLENUM,
    name: piece.name ?? "",
    room: piece.room ?? "",
    floor: piece.floor ?? "",
    shape: piece.width_m ? "sides" : "round",
    wall: piece.wall ?? "metal",
    damper: piece.damper ?? "none",
    quiet: piece.quiet ? "yes" : "no",
  };
}

/** The numbers that were typed, in SI; those left open are left out. */
function numbersOf(typed: Typed, names: NumberName[], system: System): Partial<Record<NumberName, number>> {
  const found: Partial<Record<NumberName, number>> = {};
  for (const name of names) {
    const si = typedSi(typed[name], NUMBERS[name], system);
    if (si !== undefined) found[name] = si;
  }
  return found;
}

const SIZES: Record<Typed["shape"], NumberName[]> = { round: ["diameter_m"], sides: ["width_m", "height_m"] };
const OF_BRANCH: NumberName[] = [
  "register_pa",
  "register_m3s",
  "register_open",
  "face_area_m2",
  "cooling_design_m3s",
  "heating_design_m3s",
  "room_load_w",
  "floor_area_m2",
];

const common = (id: string, typed: Typed, fittings: string[], system: System) => ({
  id,
  after: typed.after === PLENUM ? "" : typed.after,
  wall: typed.wall,
  fittings,
  length_m: typedSi(typed.length_m, "length", system) ?? 0,
  ...numbersOf(typed, [...SIZES[typed.shape], "more_loss"], system),
  ...(typed.wall === "flexible" ? numbersOf(typed, ["compressed"], system) : {}),
});

export const branchOf = (id: string, typed: Typed, fittings: string[], system: System): RoomBranch => ({
  ...common(id, typed, fittings, system),
  room: typed.room.trim(),
  floor: typed.floor.trim(),
  damper: typed.damper,
  quiet: typed.quiet === "yes",
  ...numbersOf(typed, OF_BRANCH, system),
  ...(typed.damper === "none" ? {} : numbersOf(typed, ["damper_deg"], system)),
});

export const trunkOf = (id: string, typed: Typed, fittings: string[], system: System): Trunk => ({
  ...common(id, typed, fittings, system),
  name: typed.name.trim(),
});

/** The duct tree on a nameplate, where somebody noted one. */
export function treeOf(
  nameplate: object | undefined,
): { trunks: Trunk[]; branches: RoomBranch[] } | undefined {
  const ducts = (nameplate as { ducts?: { trunks?: Trunk[]; branches?: RoomBranch[] } } | undefined)?.ducts;
  return ducts?.branches?.length ? { trunks: ducts.trunks ?? [], branches: ducts.branches } : undefined;
}
