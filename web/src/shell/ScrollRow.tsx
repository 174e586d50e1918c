import { ChevronLeft, ChevronRight } from "lucide-react";
import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";

/** A row that scrolls sideways, and shows where it does: an arrow on the side where there is more. */
export function ScrollRow({
  legend,
  className = "",
  drawing = false,
  children,
}: {
  legend: string;
  /** Nothing in it takes the focus: then it does itself, so that arrow keys move it. */
  drawing?: boolean;
  className?: string;
  children: ReactNode;
}) {
  const row = useRef<HTMLDivElement>(null);
  const [more, setMore] = useState({ before: false, after: false });
  const look = useCallback(() => {
    const box = row.current;
    if (!box) return;
    const before = box.scrollLeft > 2;
    const after = box.scrollLeft + box.clientWidth < box.scrollWidth - 2;
    setMore((known) => (known.before === before && known.after === after ? known : { before, after }));
  }, []);
  // Whatever changed in it or around it may have changed how much of it is seen.
  useEffect(look);
  useEffect(() => {
    if (!row.current) return;
    const watch = new ResizeObserver(look);
    watch.observe(row.current);
    return () => watch.disconnect();
  }, [look]);
  const turn = (way: -1 | 1) =>
    row.current?.scrollBy({ left: way * row.current.clientWidth * 0.7, behavior: "smooth" });
  const side = (way: -1 | 1) => (
    <button
      type="button"
      tabIndex={-1}
      className={`touch absolute inset-y-0 flex items-center bg-base-100/90 px-1 ${way < 0 ? "left-0" : "right-0"}`}
      aria-label={way < 0 ? "More to the left" : "More to the right"}
      onClick={() => turn(way)}
    >
      {way < 0 ? <ChevronLeft size={20} aria-hidden="true" /> : <ChevronRight size={20} aria-hidden="true" />}
    </button>
  );
  return (
    <fieldset className={`relative min-w-0 ${className}`}>
      <legend className="sr-only">{legend}</legend>
      <div
        ref={row}
        className="flex gap-1.5 overflow-x-auto px-2 py-1"
        onScroll={look}
        {...(drawing ? { tabIndex: 0, role: "group", "aria-label": legend } : {})}
      >
        {children}
      </div>
      {more.before && side(-1)}
      {more.after && side(1)}
    </fieldset>
  );
}
