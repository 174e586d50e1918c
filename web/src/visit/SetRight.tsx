import { Unanswered } from "../api/client";
import { core } from "../core/core";
import { useVisit } from "../logbook/context";
import { CorrectForm } from "../systems/CorrectForm";
import type { NewSite } from "../systems/making";
import { type Known, knownOf, type Values } from "../systems/plate";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";
import { MoveVisit } from "./MoveVisit";

/** The nameplate and the site as the technician in front of them reads them: an entry, so also without signal. */
export function SetRight() {
  const { question, record, openTool } = useVisit();
  const { system: units } = useUnits();
  const known = knownOf(question.head);

  /** What the core on this device would refuse, by the form's fields. */
  const refused = async (kind: string, body: object, under: string): Promise<Values> => {
    if (core.state !== "ready") return {};
    const entry = { id: crypto.randomUUID(), kind, at: new Date().toISOString(), body, phase: "as_found" };
    try {
      await core.ask("accept", { ...question, entry });
      return {};
    } catch (error) {
      const found = error instanceof Unanswered ? error.problem?.refusals?.[0] : undefined;
      if (!found) return {};
      const path = found.path.replace(/^body\./, "");
      return { [path ? `${under}${path}` : "all"]: say(found.sentence, units) };
    }
  };

  const save = async ({ system, site }: { system?: Known; site?: NewSite }): Promise<Values> => {
    const { site: _, ...wasSystem } = known;
    const { name, kind, location, nameplate } = system ?? known;
    const systemBody = { name, kind, location, nameplate, was: wasSystem };
    const siteBody = site && { ...site, was: { ...known.site } };
    const wrong = {
      ...(system ? await refused("corrected_system", systemBody, "") : {}),
      ...(siteBody ? await refused("corrected_site", siteBody, "site.") : {}),
    };
    if (Object.keys(wrong).length > 0) return wrong;
    if (system) await record("corrected_system", systemBody, { phase: "as_found" });
    if (siteBody) await record("corrected_site", siteBody, { phase: "as_found" });
    return {};
  };

  return (
    <div className="space-y-4">
      <h1 className="font-semibold text-2xl">What is known of this system</h1>
      <p className="quiet">
        Type what the nameplate in front of you says. The visit is worked out with it at once, and every later
        visit begins with it. The record keeps what stood here before.
      </p>
      <MoveVisit close={() => openTool(undefined)} />
      <CorrectForm key={JSON.stringify(known)} known={known} save={save} close={() => openTool(undefined)} />
    </div>
  );
}
