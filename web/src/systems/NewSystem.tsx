import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { Unanswered } from "../api/client";
import { dayQuery, queries, systemQuery } from "../api/queries";
import { useCore } from "../core/core";
import { TopBar } from "../frame/TopBar";
import { beginHere } from "../logbook/begin";
import { type Option, SelectField } from "../shell/fields";
import { useTitle } from "../shell/useTitle";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";
import { makeHere, NAMELESS, type NewSite } from "./making";
import { Kinds, NameFields, PlateFields, SiteFields } from "./PlateFields";
import { knownOf, plateSi, plateTyped, siteSi, type Values } from "./plate";
import { useFirstWrong } from "./useFirstWrong";

const NEW_SITE = "";

/** Until somebody can say more: set right later, on the visit. */
const NAMELESS_SITE = "Site, not named yet";

/** A unit that nobody has written down yet: its site, what it is, what its nameplate says. What it is is enough. */
export function NewSystem() {
  const { system } = useUnits();
  const state = useCore();
  const go = useNavigate();
  useTitle("A new system");
  const { data: day } = useQuery(dayQuery);
  const [site, setSite] = useState(NEW_SITE);
  const [where, setWhere] = useState<Values>({
    name: "",
    elevation: "",
    barometer: "",
    zone: "",
    location: "",
  });
  const [kind, setKind] = useState("");
  const [name, setName] = useState("");
  const [plate, setPlate] = useState<Values>({});
  const [wrong, setWrong] = useState<Values>({});
  const [busy, setBusy] = useState(false);

  const sites = new Map((day?.systems ?? []).map((each) => [String(each.site_id), each.site]));
  const sisters = (day?.systems ?? []).filter((each) => each.kind === kind);
  const put = (key: string, text: string) => setWhere((before) => ({ ...before, [key]: text }));

  const copy = async (id: string) => {
    const page = await queries.fetchQuery({ ...systemQuery(id), staleTime: 60_000 }).catch(() => undefined);
    const from = page && knownOf(page.head).nameplate;
    if (!from) return setWrong({ copy: "This nameplate is not on this device." });
    const { serial: _, ...rest } = from;
    setPlate(plateTyped(kind, rest, system));
  };

  const make = async () => {
    const found: Values = {};
    if (!kind) found.kind = "Choose what it is.";
    let there: NewSite & { id?: string };
    if (site === NEW_SITE) {
      const known = { ...where, name: where.name?.trim() || NAMELESS_SITE };
      there = siteSi(known, system, found);
    } else {
      const near = day?.systems.find((each) => String(each.site_id) === site);
      const page =
        near &&
        (await queries
          .fetchQuery({ ...systemQuery(String(near.id)), staleTime: 60_000 })
          .catch(() => undefined));
      const known = page && knownOf(page.head).site;
      if (!known)
        found.site = "What is known of this site is not on this device. Choose it again with signal.";
      there = { ...(known as NewSite), id: site };
    }
    const nameplate = plateSi(kind, plate, system, found);
    setWrong(found);
    if (Object.keys(found).length > 0) return;
    setBusy(true);
    try {
      const made = await makeHere({
        site: there,
        name: name.trim() || NAMELESS,
        kind,
        location: where.location?.trim() ?? "",
        nameplate,
      });
      const visit = crypto.randomUUID();
      await beginHere(made, visit);
      await go({ to: "/visits/$visitId", params: { visitId: visit }, search: { step: "arrive" } });
    } catch (error) {
      const refusal = error instanceof Unanswered ? error.problem?.refusals?.[0] : undefined;
      const path = (refusal?.path ?? "").replace(/^system\./, "");
      setWrong({
        [path || "all"]: refusal ? say(refusal.sentence, system) : "This did not work. Try again.",
      });
    } finally {
      setBusy(false);
    }
  };

  useFirstWrong(wrong);

  const options: Option[] = [
    { key: NEW_SITE || "new", name: "A new site" },
    ...[...sites].map(([key, title]) => ({ key, name: title })),
  ];
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<span className="font-semibold">New system</span>} />
      <main className="mx-auto w-full max-w-3xl flex-1 space-y-6 overflow-y-auto p-4 pb-0" tabIndex={-1}>
        <h1 className="font-semibold text-2xl">A system that is not on the list</h1>
        <p className="quiet">
          What it is is enough to begin. Leave open what you don't know or can't read: it is set right later,
          on the visit.
        </p>
        <Kinds chosen={kind} choose={setKind} wrong={wrong.kind ?? ""} />
        <NameFields
          values={{ ...where, name }}
          put={(key, text) => (key === "name" ? setName(text) : put(key, text))}
          wrong={wrong}
        />
        <section className="panel space-y-3 p-4" aria-labelledby="site">
          <h2 id="site" className="font-semibold text-lg">
            Site
          </h2>
          <SelectField
            label="Which site"
            options={options}
            value={site || "new"}
            onChange={(key) => setSite(key === "new" ? NEW_SITE : key)}
            wrong={wrong.site ?? ""}
          />
          {site === NEW_SITE && <SiteFields values={where} put={put} wrong={wrong} />}
        </section>
        {kind && (
          <section className="panel space-y-3 p-4" aria-labelledby="plate">
            <h2 id="plate" className="font-semibold text-lg">
              Nameplate
            </h2>
            {sisters.length > 0 && (
              <SelectField
                label="Same as another? Copy its nameplate, without the serial number"
                options={sisters.map((each) => ({
                  key: String(each.id),
                  name: `${each.name}, ${each.site}`,
                }))}
                value=""
                onChange={(id) => void copy(id)}
                wrong={wrong.copy ?? ""}
              />
            )}
            <PlateFields
              kind={kind}
              values={plate}
              put={(key, text) => setPlate((before) => ({ ...before, [key]: text }))}
              wrong={wrong}
            />
          </section>
        )}
        <div className="-bottom-3 wide:-bottom-4 sticky z-10 border-base-300 border-t bg-base-100 py-3">
          {Object.keys(wrong).length > 0 && (
            <p role="alert" className="pb-2">
              {wrong.all ?? "Something above is not right yet: it says what."}
            </p>
          )}
          <button
            type="button"
            className="btn btn-primary touch w-full text-base"
            disabled={busy || state !== "ready"}
            onClick={() => void make()}
          >
            {state === "ready" ? "Make it and begin the visit" : "Getting this device ready …"}
          </button>
        </div>
      </main>
    </div>
  );
}
