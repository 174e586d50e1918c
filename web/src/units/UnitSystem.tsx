import { createContext, type ReactNode, useContext, useMemo, useState } from "react";
import { remember, remembered } from "../device/remembered";
import type { System } from "./units";

interface Choice {
  system: System;
  toggle: () => void;
}

const Context = createContext<Choice>({ system: "US", toggle: () => {} });
const KEPT = "fentro.units";

/** The unit system, kept on the device; switching it changes every number at once. */
export function UnitSystemProvider({ children }: { children: ReactNode }) {
  const [system, setSystem] = useState<System>(() => (remembered(KEPT) === "SI" ? "SI" : "US"));
  const choice = useMemo(
    () => ({
      system,
      toggle: () => {
        const next = system === "US" ? "SI" : "US";
        remember(KEPT, next);
        setSystem(next);
      },
    }),
    [system],
  );
  return <Context.Provider value={choice}>{children}</Context.Provider>;
}

export const useUnits = (): Choice => useContext(Context);
