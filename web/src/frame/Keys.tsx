import { useNavigate } from "@tanstack/react-router";
import { lazy, type RefObject, Suspense, useEffect, useRef, useState } from "react";
import { Panel } from "../shell/Panel";
import { useKeys } from "../shell/useKeys";
import { useUnits } from "../units/UnitSystem";
import { onFind } from "./finding";

/** Loaded when it is opened first: a visit opens sooner without it. */
const Finder = lazy(() => import("./Finder").then(({ Finder }) => ({ default: Finder })));

const KEYS: [string, string][] = [
  ["1 to 9", "steps of the visit"],
  ["[ and ]", "station before, after"],
  ["r", "read here"],
  ["w", "working of the main number"],
  ["h", "hold the live value"],
  ["t", "temporary change"],
  ["n", "note"],
  ["u", "units"],
  ["/", "find a system, site or visit"],
  ["Esc", "close what is open"],
  ["?", "these keys"],
];

/** Keys that work everywhere; a page adds its own with `useKeys`. */
export function Keys() {
  const { toggle } = useUnits();
  const go = useNavigate();
  const [open, setOpen] = useState<"find" | "keys" | undefined>();
  const early = useRef("");
  // A dialog tells a moment later that it was closed: by then another may be open.
  const closed = (which: "find" | "keys") => setOpen((now) => (now === which ? undefined : now));
  const find = () => {
    early.current = "";
    setOpen("find");
  };
  const finding = useRef(find);
  finding.current = find;
  useEffect(() => onFind(() => finding.current()), []);
  useKeys({
    u: toggle,
    "/": find,
    "?": () => setOpen("keys"),
  });
  return (
    <>
      {open === "find" && (
        <Suspense fallback={<Early typed={early} onClose={() => closed("find")} />}>
          <Finder first={early} onClose={() => closed("find")} go={(href) => go({ href })} />
        </Suspense>
      )}
      {open === "keys" && (
        <Panel title="Keys" onClose={() => closed("keys")}>
          <dl className="grid grid-cols-[6rem_1fr] gap-y-2">
            {KEYS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="reading font-semibold">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </Panel>
      )}
    </>
  );
}

/** Letters that are typed while the finder is still on its way are not lost. */
function Early({ typed, onClose }: { typed: RefObject<string>; onClose: () => void }) {
  return (
    <Panel title="Find" onClose={onClose}>
      <input
        // biome-ignore lint/a11y/noAutofocus: whoever asked to find types at once
        autoFocus
        aria-label="A few letters"
        className="input touch w-full"
        onChange={(event) => {
          typed.current = event.target.value;
        }}
      />
    </Panel>
  );
}
