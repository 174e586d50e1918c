/** Verdict marks: shape and word first, colour second. */
export type MarkName = "holds" | "watch" | "off" | "too_close" | "not_measured";

export const MARK_WORDS: Record<MarkName, string> = {
  holds: "Holds",
  watch: "Watch",
  off: "Off",
  too_close: "Too close to call",
  not_measured: "Not measured",
};

const COLOURS: Record<MarkName, string> = {
  holds: "text-success",
  watch: "text-warning",
  off: "text-error",
  too_close: "text-info",
  not_measured: "quiet",
};

export function VerdictMark({ mark, size = 22 }: { mark: MarkName; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" className={`shrink-0 ${COLOURS[mark]}`} role="img">
      <title>{MARK_WORDS[mark]}</title>
      <Shape mark={mark} />
    </svg>
  );
}

function Shape({ mark }: { mark: MarkName }) {
  const ring = { fill: "none", stroke: "currentColor", strokeWidth: 2.5 };
  switch (mark) {
    case "holds":
      return <circle cx="12" cy="12" r="8.5" fill="currentColor" />;
    case "watch":
      return (
        <>
          <circle cx="12" cy="12" r="8.5" {...ring} />
          <path d="M12 3.5a8.5 8.5 0 0 0 0 17z" fill="currentColor" />
        </>
      );
    case "off":
      return (
        <>
          <circle cx="12" cy="12" r="8.5" {...ring} />
          <path d="M3 21 21 3" stroke="currentColor" strokeWidth="2.5" />
        </>
      );
    case "too_close":
      return (
        <>
          <circle cx="8.5" cy="12" r="6" {...ring} />
          <circle cx="15.5" cy="12" r="6" {...ring} />
        </>
      );
    default:
      return <circle cx="12" cy="12" r="8.5" {...ring} strokeDasharray="2 3.3" />;
  }
}
