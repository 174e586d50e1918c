import { useMemo } from "react";

const MONTHS = ["J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D"];
const LENGTHS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

const LOCKS = [
  { letter: "c", name: "too cold", className: "text-info" },
  { letter: "h", name: "too hot", className: "text-error" },
  { letter: "d", name: "too moist outdoors", className: "text-warning" },
  { letter: "m", name: "too moist indoors", className: "text-accent" },
] as const;

/** A year at a look: a column a day, midnight below, the next midnight above; marked hours are locked out. */
export function YearMap({ days }: { days: string[] }) {
  const marks = useMemo(
    () =>
      LOCKS.map(({ letter }) => {
        let path = "";
        days.forEach((day, x) => {
          for (let from = day.indexOf(letter); from >= 0; from = day.indexOf(letter, from)) {
            let end = from;
            while (day[end] === letter) end += 1;
            path += `M${x},${24 - from}h1v${from - end}h-1z`;
            from = end;
          }
        });
        return path;
      }),
    [days],
  );
  const counts = LOCKS.map(({ letter }) => days.join("").split(letter).length - 1);
  let start = 0;
  const months = LENGTHS.map((length, index) => {
    const at = start;
    start += length;
    return { at, name: MONTHS[index] ?? "", key: `${index}` };
  });
  return (
    <figure>
      <svg viewBox="0 0 365 24" className="h-36 w-full" role="img" preserveAspectRatio="none">
        <title>Hours of the year in which the ventilator is locked out</title>
        <rect x="0" y="0" width="365" height="24" className="fill-base-200" />
        {months.map(({ at, key }) => (
          <path key={key} d={`M${at},0v24`} stroke="currentColor" strokeOpacity="0.15" strokeWidth="0.5" />
        ))}
        {LOCKS.map(({ letter, className }, index) => (
          <path key={letter} d={marks[index]} className={className} fill="currentColor" />
        ))}
      </svg>
      <div className="quiet flex text-sm" aria-hidden="true">
        {months.map(({ key, name }) => (
          <span key={key} className="flex-1 text-center">
            {name}
          </span>
        ))}
      </div>
      <figcaption className="flex flex-wrap gap-x-4 text-sm">
        <span>Each column a day, midnight below to midnight above.</span>
        {LOCKS.map(
          ({ letter, name, className }, index) =>
            (counts[index] ?? 0) > 0 && (
              <span key={letter} className="inline-flex items-center gap-1">
                <span className={`inline-block h-3 w-3 bg-current ${className}`} aria-hidden="true" />
                {name}, {counts[index]} h
              </span>
            ),
        )}
      </figcaption>
    </figure>
  );
}
