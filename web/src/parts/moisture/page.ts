/** The page of moisture. */
import type { PhaseShown } from "../../logbook/logbook";

export type MoisturePage = NonNullable<PhaseShown["pages"]["moisture"]>;

/** What is wanted, and by which means, until somebody says otherwise. */
export const USUAL_AIM = { wanted_c: 24, wanted_rh: 0.5, most_bypass: 0.3, least_air: 0.7, cop: 3.2 };

/** The entry that the next one of what is wanted replaces. */
export const replacing = (moisture: MoisturePage | null | undefined) => ({
  phase: "as_found" as const,
  ...(moisture?.aim_entry ? { replaces: moisture.aim_entry } : {}),
});
