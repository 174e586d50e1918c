/**
 * Pages of the parts of the job, by the step they belong to; each is loaded when it is opened. A new part of the core is shown
 * by one line here.
 */
import { type ComponentType, type LazyExoticComponent, lazy } from "react";
import type { PhaseShown, Page as VisitPage } from "../logbook/logbook";

export interface PartPage {
  key: string;
  name: string;
  step: "work_out" | "set_up" | "prove";
  /** The part of the job that it belongs to: pages of a step are grouped by it where they are many. */
  part: string;
  Shown: LazyExoticComponent<ComponentType>;
  /** Whether this visit has the page. */
  there: (visit: VisitPage["work_up"], phase: PhaseShown) => boolean;
}

type PhasePart = keyof PhaseShown["pages"];
type Load = () => Promise<{ default: ComponentType }>;

/** A page of Work out, there when its part has one in this phase. */
const ofPhase = (key: PhasePart, name: string, load: Load): PartPage => ({
  key,
  name,
  part: key,
  step: "work_out",
  Shown: lazy(load),
  there: (_, phase) => Boolean(phase.pages[key]),
});

/** A page of another step, there when the system has its part. */
const ofPart = (part: string, key: string, name: string, step: PartPage["step"], load: Load): PartPage => ({
  key,
  name,
  part,
  step,
  Shown: lazy(load),
  there: (visit) => (visit.parts ?? []).includes(part),
});

export const CAUSES = "causes";

export const PAGES: PartPage[] = [
  {
    key: CAUSES,
    name: "Causes",
    part: CAUSES,
    step: "work_out",
    Shown: lazy(() => import("./diagnosis/Causes")),
    there: (visit) => visit.diagnosed ?? true,
  },
  ofPhase("cooling", "Split", () => import("./cooling/Split")),
  ofPhase("heating", "Heating", () => import("./heating/Heating")),
  ofPhase("statics", "Pressures", () => import("./statics/Pressures")),
  ofPhase("leakage", "Return leak", () => import("./leakage/ReturnLeak")),
  ofPhase("moisture", "Moisture", () => import("./moisture/Moisture")),
  ofPart("ducts", "ducts", "Ducts", "set_up", () => import("./ducts/Ducts")),
  ofPart("ducts", "balance", "Balance", "set_up", () => import("./ducts/Balance")),
  ofPart("zoning", "zones", "Zones", "set_up", () => import("./zoning/Zones")),
  ofPart("zoning", "hardware", "Hardware", "set_up", () => import("./zoning/Hardware")),
  ofPart("ventilation", "fresh_air", "Fresh air", "set_up", () => import("./ventilation/FreshAir")),
  ofPart("night", "tonight", "Tonight", "set_up", () => import("./night/Tonight")),
  ofPart("economizer", "plan", "Plan", "set_up", () => import("./economizer/Plan")),
  ofPart("economizer", "spaces", "Rooms and people", "set_up", () => import("./ventilation/Spaces")),
  ofPart("economizer", "minimum", "Minimum", "set_up", () => import("./economizer/Minimum")),
  ofPart("economizer", "map", "Mode map", "set_up", () => import("./economizer/ModeMap")),
  ofPart("economizer", "relief", "Relief", "set_up", () => import("./economizer/Relief")),
  ofPart("economizer", "controller", "Controller", "set_up", () => import("./economizer/ControllerPanel")),
  ofPart("economizer", "points", "Points", "set_up", () => import("./economizer/PointsAudit")),
  ofPart("economizer", "alarms", "Alarms", "set_up", () => import("./economizer/Alarms")),
  ofPart("economizer", "retrofit", "Retrofit", "set_up", () => import("./economizer/Retrofit")),
  ofPart("economizer", "tests", "Functional tests", "prove", () => import("./economizer/Proof")),
  ofPart("ventilation", "fresh_air_proof", "Fresh air", "prove", () => import("./ventilation/Prove")),
  ofPart("night", "night_proof", "Night damper", "prove", () => import("./night/Prove")),
  {
    ...ofPart("moisture", "drying_proof", "Reheat, bypass", "prove", () => import("./moisture/Prove")),
    there: (_, phase) => Boolean(phase.pages.moisture?.proof),
  },
  ofPart("zoning", "zone_proof", "Zones", "prove", () => import("./zoning/Proof")),
  ofPart("economizer", "loops", "Loops", "prove", () => import("./economizer/Loops")),
];

/** The pages that a visit has in a step. */
export const pagesOf = (step: PartPage["step"], visit: VisitPage["work_up"], phase: PhaseShown): PartPage[] =>
  PAGES.filter((page) => page.step === step && page.there(visit, phase));

/** The step in which a page stands. */
export const stepOf = (key: string): PartPage["step"] | undefined =>
  PAGES.find((page) => page.key === key)?.step;
