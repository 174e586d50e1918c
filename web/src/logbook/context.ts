/** The open visit: what every screen of it may ask or do. */
import { createContext, useContext } from "react";
import type { BodyOf, NewEntryOf } from "../api/entries";
import type { Kind, Logged, Page, Phase, PhaseShown } from "./logbook";
import type { Question } from "./question";

export interface Visit {
  page: Page;
  entries: Logged[];
  /** The visit as the core on this device is asked about it. */
  question: Question;
  /** The phase that readings taken at the present step belong to. */
  phase: Phase;
  /** The phase whose results are shown. */
  shown: PhaseShown;
  mayWrite: boolean;
  /** Take an entry: it is safe on the device when this resolves. */
  record: <K extends Kind>(
    kind: K,
    body: BodyOf<K>,
    more?: { replaces?: string; reason?: string; phase?: Phase; at?: string },
  ) => Promise<NewEntryOf<K>>;
  openStep: (step: string) => void;
  /** Open the pad at a station; at another step when this one is not for reading. */
  openStation: (station: string | undefined, atStep?: string) => void;
  openWorking: (result: string | undefined) => void;
  /** The page of a step that is open, and the way to another, at another step where one is named. */
  section: string | undefined;
  openSection: (section: string | undefined, atStep?: string) => void;
  /** Open one of the measuring tools in the place of the step's work: probes, match, file. */
  openTool: (tool: string | undefined) => void;
}

export const VisitContext = createContext<Visit | undefined>(undefined);

export function useVisit(): Visit {
  const visit = useContext(VisitContext);
  if (!visit) throw new Error("outside a visit");
  return visit;
}
