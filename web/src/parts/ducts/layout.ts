/** Where the pieces of a duct tree stand in the drawing: trunks run down the left, each branch leaves to its own row on the right. */

export interface Laid {
  id: string;
  after?: string | undefined;
  /** Air through it, in any measure: widths go with it. */
  flow: number;
}

export interface Row {
  id: string;
  /** Middle of its row. */
  y: number;
  /** Where it leaves its trunk. */
  x: number;
  width: number;
}

export interface Run {
  id: string;
  x: number;
  from: number;
  to: number;
  width: number;
  /** Where the trunk before it stands, and how wide; none out of the plenum. */
  before: { x: number; y: number } | undefined;
}

export const ROW = 56;
export const HEAD = 44;
const NARROWEST = 3;

/** Room for the drawing: the widest run, how far runs stand apart, where the first one stands. */
const WIDE = { widest: 56, step: 52, left: 34 };
const NARROW = { widest: 26, step: 20, left: 16 };

/** Pieces in the order of the air: each trunk, then what leaves it; what hangs in a ring or on nothing comes last. */
export function inOrder<T extends Laid>(
  trunks: T[],
  branches: T[],
): { trunks: T[]; branches: T[]; depth: Map<string, number> } {
  const depth = new Map<string, number>();
  const ordered: T[] = [];
  const leaves: T[] = [];
  const seen = new Set<string>();
  const visit = (at: string, deep: number) => {
    for (const branch of branches.filter((each) => (each.after ?? "") === at)) leaves.push(branch);
    for (const trunk of trunks.filter((each) => (each.after ?? "") === at && !seen.has(each.id))) {
      seen.add(trunk.id);
      depth.set(trunk.id, deep);
      ordered.push(trunk);
      visit(trunk.id, deep + 1);
    }
  };
  visit("", 0);
  for (const trunk of trunks) {
    if (seen.has(trunk.id)) continue;
    seen.add(trunk.id);
    depth.set(trunk.id, 0);
    ordered.push(trunk);
    visit(trunk.id, 1);
  }
  const placed = new Set(leaves);
  return { trunks: ordered, branches: [...leaves, ...branches.filter((each) => !placed.has(each))], depth };
}

/** The drawing: rows of branches, runs of trunks, and how high it is. `room`: width for the drawing alone. */
export function layoutOf(
  trunks: Laid[],
  branches: Laid[],
  narrow = false,
): { rows: Row[]; runs: Run[]; height: number; width: number } {
  const { widest, step, left } = narrow ? NARROW : WIDE;
  const order = inOrder(trunks, branches);
  const whole = Math.max(
    branches.reduce((sum, each) => sum + each.flow, 0),
    1e-9,
  );
  const wide = (flow: number) => Math.max(NARROWEST, (widest * flow) / whole);
  const columns = new Map<string, number>();
  for (const [index, trunk] of order.trunks.entries()) {
    columns.set(trunk.id, left + Math.min(index, 3) * step);
  }
  const x = (id: string | undefined) => (id ? (columns.get(id) ?? left) : left - 12);
  const rows = order.branches.map((branch, index) => ({
    id: branch.id,
    y: HEAD + index * ROW + ROW / 2,
    x: x(branch.after),
    width: wide(branch.flow),
  }));
  const byId = new Map(rows.map((row) => [row.id, row]));
  /** All rows that a trunk feeds, through others too. */
  const fed = (id: string, seen: Set<string> = new Set()): Row[] => {
    if (seen.has(id)) return [];
    seen.add(id);
    return [
      ...branches.filter((each) => each.after === id).flatMap((each) => byId.get(each.id) ?? []),
      ...trunks.filter((each) => each.after === id).flatMap((each) => fed(each.id, seen)),
    ];
  };
  const runs = order.trunks.map((trunk) => {
    const own = fed(trunk.id).map((row) => row.y);
    const from = own.length ? Math.min(...own) : HEAD;
    const flow =
      trunk.flow ||
      branches.filter((each) => each.after === trunk.id).reduce((sum, each) => sum + each.flow, 0);
    return {
      id: trunk.id,
      x: x(trunk.id),
      from: trunk.after ? from - ROW / 2 : 8,
      to: own.length ? Math.max(...own) : from,
      width: wide(flow),
      before: trunk.after ? { x: x(trunk.after), y: from - ROW / 2 } : undefined,
    };
  });
  const right = left + Math.min(Math.max(order.trunks.length - 1, 0), 3) * step;
  return { rows, runs, height: HEAD + rows.length * ROW, width: right + step + (narrow ? 6 : 20) };
}

/** How a share of design is tinted: too little, as it should be, too much; told apart by lightness as well. */
export function shareTint(share: number | undefined): string {
  if (share === undefined) return "#8fabb5";
  if (share < 0.9) return "#a8452a";
  if (share > 1.1) return "#3f5f73";
  return "#7f9f86";
}

export type Tinted = "share" | "room";

/** A room this near to what is wanted counts as there [K]. */
const NEAR_K = 0.8;

/** How a room's deviation from what is wanted is tinted: too cold, there, too warm. */
export function deviationTint(kelvin: number | undefined): string {
  if (kelvin === undefined) return "#c9c3b4";
  if (kelvin > NEAR_K) return "#a8452a";
  if (kelvin < -NEAR_K) return "#3f5f73";
  return "#7f9f86";
}
