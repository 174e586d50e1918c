/** A fitting as a small drawing of the way of the air through it. */
const WAYS: Record<string, string> = {
  bend_90: "M6 26 V16 A10 10 0 0 1 16 6 H26",
  bend_90_pieces: "M6 26 V18 L11 11 L18 6 H26",
  bend_90_mitred: "M6 26 V6 H26",
  bend_90_vanes: "M6 26 V6 H26 M11 26 V11 H26",
  bend_45: "M4 24 H12 Q16 24 19 21 L27 13",
  bend_45_pieces: "M4 24 H14 L27 11",
  plenum_entry: "M4 4 V12 H28 M4 28 V20 H28",
  bell_mouth: "M4 4 Q6 12 16 12 H28 M4 28 Q6 20 16 20 H28",
  takeoff_straight: "M2 24 H30 M16 24 V4",
  takeoff_shoe: "M2 24 H30 M10 24 L18 14 V4",
  takeoff_conical: "M2 24 H30 M9 24 L14 12 V4 M23 24 L18 12 V4",
  past_takeoff: "M2 16 H30 M22 16 V6",
  wye: "M4 16 H14 L27 6 M14 16 L27 26",
  boot_straight: "M16 4 V14 M16 14 L6 22 V28 M16 14 L26 22 V28",
  boot_turning: "M4 10 H18 Q22 10 22 16 V28",
  open_end: "M2 12 H20 M2 20 H20 M24 10 L28 6 M24 16 H30 M24 22 L28 26",
  hood_screen: "M2 12 H18 M2 20 H18 M18 6 V26 M22 6 V26 M26 6 V26",
  narrowing: "M2 6 H16 V12 H30 M2 26 H16 V20 H30",
  widening: "M2 12 H16 V6 H30 M2 20 H16 V26 H30",
};

export function FittingSign({ fitting }: { fitting: string }) {
  return (
    <svg width={32} height={32} viewBox="0 0 32 32" aria-hidden="true" className="shrink-0">
      <path
        d={WAYS[fitting] ?? ""}
        fill="none"
        stroke="currentColor"
        strokeWidth={2.5}
        strokeLinejoin="round"
      />
    </svg>
  );
}
