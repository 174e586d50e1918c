/** Tints are the same in both themes, and so is the ink on them. */
const INK = "#1c2624";

/** Our own signs for what the air passes, drawn across the band. */
export function ElementSign({ kind, height, tinted }: { kind: string; height: number; tinted: boolean }) {
  const half = height / 2;
  const ink = tinted ? INK : "var(--color-base-content)";
  const line = { stroke: ink, strokeWidth: 1.6, fill: "none" };
  switch (kind) {
    case "filter":
      return (
        <path d={`M-3 ${-half}V${half}M3 ${-half}V${half}M-3 ${-half + 8}l6 6m-6 6l6 6m-6 6l6 6`} {...line} />
      );
    case "coil":
      return (
        <path
          d={`M-9 ${-half}h18M-9 ${half}h18M-6 ${-half}V${half}M0 ${-half}V${half}M6 ${-half}V${half}`}
          {...line}
        />
      );
    case "heat_exchanger":
      return (
        <path
          d={`M-8 ${-half}V${half}M8 ${-half}V${half}M-8 ${half - 6}L8 ${half - 18}L-8 ${-half + 12}L8 ${-half + 4}`}
          {...line}
        />
      );
    case "core":
      return <path d={`M0 ${-half}L12 0L0 ${half}L-12 0ZM-6 ${-half / 2}L6 ${half / 2}`} {...line} />;
    case "blower":
      return (
        <g {...line}>
          <circle r={13} />
          <path d="M-4 -6L7 0L-4 6Z" fill={ink} stroke="none" />
        </g>
      );
    case "mixing":
      return <path d={`M0 ${-half}V${half}`} strokeDasharray="3 4" {...line} />;
    case "grille":
    case "register":
    case "outside":
      return <path d={`M0 ${-half}V${half}`} {...line} />;
    default:
      return null;
  }
}
