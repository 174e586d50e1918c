import { useNavigate } from "@tanstack/react-router";
import { useEffect, useState } from "react";
import { Panel } from "../shell/Panel";
import { useKeys } from "../shell/useKeys";
import { useUnits } from "../units/UnitSystem";
import { Finder } from "./Finder";
import { onFind } from "./finding";

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
  // A dialog tells a moment later that it was closed: by then another may be open.
  const closed = (which: "find" | "keys") => setOpen((now) => (now === which ? undefined : now));
  useEffect(() => onFind(() => setOpen("find")), []);
  useKeys({
    u: toggle,
    "/": () => setOpen("find"),
    "?": () => setOpen("keys"),
  });
  return (
    <>
      {open === "find" && <Finder onClose={() => closed("find")} go={(href) => go({ href })} />}
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
