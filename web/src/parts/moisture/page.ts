/** The page of moisture, and one of its results. */
import type { PhaseShown } from "../../logbook/logbook";

export type MoisturePage = NonNullable<PhaseShown["pages"]["moisture"]>;
export type Result = PhaseShown["results"][number];
