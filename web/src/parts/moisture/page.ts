/** The page of moisture. */
import type { PhaseShown } from "../../logbook/logbook";

export type MoisturePage = NonNullable<PhaseShown["pages"]["moisture"]>;
