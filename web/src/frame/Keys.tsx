import { useNavigate } from "@tanstack/react-router";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { Panel } from "../shell/Panel";
import { useKeys } from "../shell/useKeys";
import { useUnits } from "../units/UnitSystem";
import { onFind } from "./finding";
import { useEarlyKeys } from "./useEarlyKeys";

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
  const [typed, setTyped] = useState("");
  // The finder's field has the keys: from then on it minds them itself.
  const [taken, setTaken] = useState(false);
  const [entered, setEntered] = useState(false);
  // A dialog tells a moment later that it was closed: by then another may be open.
  const closed = (which: "find" | "keys") => setOpen((now) => (now === which ? undefined : now));
  const find = () => {
    setTyped("");
    setTaken(false);
    setEntered(false);
    setOpen("find");
  };
  useEarlyKeys(open === "find" && !taken, {
    onLetters: setTyped,
    onEnter: () => setEntered(true),
  });
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
        <Panel title="Find" onClose={() => closed("find")}>
          <Suspense fallback={<p className="input touch w-full">{typed || "A few letters"}</p>}>
            <Finder
              typed={typed}
              onTyped={(now) => {
                setTyped(now);
                setEntered(false);
              }}
              onTaken={() => setTaken(true)}
              entered={entered}
              onEntered={() => setEntered(true)}
              onClose={() => closed("find")}
              go={(href) => go({ href })}
            />
          </Suspense>
        </Panel>
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
