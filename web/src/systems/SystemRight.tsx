import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useParams } from "@tanstack/react-router";
import { api, ask } from "../api/client";
import { systemQuery } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { Loading } from "../shell/Loading";
import { refusalsOf } from "../shell/refusals";
import { useTitle } from "../shell/useTitle";
import { useUnits } from "../units/UnitSystem";
import { CorrectForm } from "./CorrectForm";
import type { NewSite } from "./making";
import { type Known, knownOf, type Values } from "./plate";

/** A lead sets right what is known of a system and its site, without a visit. */
export function SystemRight() {
  const { systemId } = useParams({ from: "/inside/systems/$systemId/right" });
  const query = useQuery(systemQuery(systemId));
  const known = useQueryClient();
  const go = useNavigate();
  const { system: units } = useUnits();
  useTitle("Set right", query.data?.system.name);

  const back = () => void go({ to: "/systems/$systemId", params: { systemId } });
  const save =
    (siteId: string) =>
    async ({ system, site }: { system?: Known; site?: NewSite }): Promise<Values> => {
      try {
        if (system) {
          const { name, kind, location, nameplate } = system;
          const path = { system_id: systemId };
          const body = { name, kind, location, nameplate };
          await ask(api.PUT("/api/v1/systems/{system_id}/nameplate", { params: { path }, body }));
        }
        if (site)
          await ask(
            api.PUT("/api/v1/sites/{site_id}", { params: { path: { site_id: siteId } }, body: site }),
          );
        await Promise.all(
          ["system", "day", "systems", "visit"].map((list) => known.invalidateQueries({ queryKey: [list] })),
        );
        return {};
      } catch (error) {
        const found = refusalsOf(error, units);
        const named = Object.entries(found).map(([path, words]): [string, string] => [
          path === ""
            ? "all"
            : ["elevation_m", "barometer_pa", "climate_zone"].includes(path)
              ? `site.${path}`
              : path,
          words,
        ]);
        return named.length > 0
          ? Object.fromEntries(named)
          : { all: "This did not work. Try again with signal." };
      }
    };

  return (
    <div className="flex h-full flex-col">
      <TopBar place={query.data && <span className="font-semibold">{query.data.system.name}</span>} />
      <main className="mx-auto w-full max-w-3xl flex-1 space-y-4 overflow-y-auto p-4 pb-0" tabIndex={-1}>
        <Loading query={query} what="this system">
          {(page) => (
            <>
              <h1 className="font-semibold text-2xl">{page.system.name}: set right</h1>
              <p className="quiet">Every visit is worked out with what stands here, those of the past too.</p>
              <CorrectForm known={knownOf(page.head)} save={save(String(page.system.site_id))} close={back} />
            </>
          )}
        </Loading>
      </main>
    </div>
  );
}
