import { createContext, useContext } from "react";
import type { NewEntry } from "../queue/store";
import type { Logged, Page, Phase } from "./logbook";

export const PARTS = ["numbers", "causes", "split", "heating", "pressures", "leak"] as const;
export type Part = (typeof PARTS)[number];

export const partOf = (given: unknown): Part => PARTS.find((part) => part === given) ?? "numbers";

export interface Visit {
  page: Page;
  entries: Logged[];
  /** The phase that readings taken at the present step belong to. */
  phase: Phase;
  /** The phase whose results are shown. */
  shown: Page["work_up"]["phases"][number];
  mayWrite: boolean;
  record: (
    kind: string,
    body: Record<string, unknown>,
    more?: { replaces?: string; reason?: string; phase?: Phase; at?: string },
  ) => Promise<NewEntry>;
  openStep: (step: string) => void;
  /** Open the pad at a station; at another step when this one is not for reading. */
  openStation: (station: string | undefined, atStep?: string) => void;
  openWorking: (result: string | undefined) => void;
  /** The part of Work out that is open, and the way to another. */
  part: Part;
  openPart: (part: Part) => void;
  /** The part of Set up or Prove that is open, where the system has an economizer. */
  section: string | undefined;
  openSection: (section: string | undefined, atStep?: string) => void;
  /** Open one of the measuring tools in the bench's place: probes, match, file. */
  openTool: (tool: string | undefined) => void;
}

export const VisitContext = createContext<Visit | undefined>(undefined);

export function useVisit(): Visit {
  const visit = useContext(VisitContext);
  if (!visit) throw new Error("outside a visit");
  return visit;
}
