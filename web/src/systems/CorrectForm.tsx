import { useState } from "react";
import { useUnits } from "../units/UnitSystem";
import type { NewSite } from "./making";
import { Kinds, NameFields, PlateFields, SiteFields } from "./PlateFields";
import { type Known, plateSi, plateTyped, siteSi, siteTyped, type Values } from "./plate";
import { useFirstWrong } from "./useFirstWrong";

const same = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other);

/** Set right what is known of a system and its site. `save` throws nothing: it answers what is wrong, by field. */
export function CorrectForm({
  known,
  save,
  close,
}: {
  known: Known;
  save: (to: { system?: Known; site?: NewSite }) => Promise<Values>;
  close: () => void;
}) {
  const { system: units } = useUnits();
  const [form, setForm] = useState({ name: known.name, location: known.location });
  const [kind, setKind] = useState(known.kind);
  const [plate, setPlate] = useState(() => plateTyped(known.kind, known.nameplate, units));
  const [site, setSite] = useState(() => siteTyped(known.site, units));
  const [wrong, setWrong] = useState<Values>({});
  const [other, setOther] = useState(false);
  const [busy, setBusy] = useState(false);
  useFirstWrong(wrong);

  const done = async () => {
    const found: Values = {};
    if (form.name.trim() === "") found.name = "Give it a name, as you will look for it.";
    const nameplate = plateSi(kind, plate, units, found, kind === known.kind ? known.nameplate : {});
    const there = siteSi(site, units, found, known.site);
    if (Object.keys(found).length > 0) return setWrong(found);
    const to = { ...known, name: form.name.trim(), location: form.location.trim(), kind, nameplate };
    setBusy(true);
    const refused = await save({
      ...(same(to, known) ? {} : { system: to }),
      ...(same(there, known.site) ? {} : { site: there }),
    });
    setBusy(false);
    setWrong(refused);
    if (Object.keys(refused).length === 0) close();
  };

  return (
    <div className="space-y-5">
      <section className="panel space-y-3 p-4" aria-labelledby="plate-form">
        <h2 id="plate-form" className="font-semibold text-lg">
          Nameplate
        </h2>
        <NameFields
          values={form}
          put={(key, text) => setForm((before) => ({ ...before, [key]: text }))}
          wrong={wrong}
        />
        <PlateFields
          kind={kind}
          values={plate}
          put={(key, text) => setPlate((before) => ({ ...before, [key]: text }))}
          wrong={wrong}
        />
        {other ? (
          <Kinds chosen={kind} choose={setKind} wrong={wrong.kind ?? ""} />
        ) : (
          <button type="button" className="btn touch" onClick={() => setOther(true)}>
            It is another kind of system
          </button>
        )}
      </section>
      <section className="panel space-y-3 p-4" aria-labelledby="site-form">
        <h2 id="site-form" className="font-semibold text-lg">
          Site, for every system on it
        </h2>
        <SiteFields
          values={site}
          put={(key, text) => setSite((before) => ({ ...before, [key]: text }))}
          wrong={wrong}
        />
      </section>
      <div className="-bottom-3 wide:-bottom-4 sticky z-10 border-base-300 border-t bg-base-100 py-3">
        {Object.keys(wrong).length > 0 && (
          <p role="alert" className="pb-2">
            {wrong.all ?? "Something above is not right yet: it says what."}
          </p>
        )}
        <div className="flex gap-2">
          <button
            type="button"
            className="btn btn-primary touch flex-1 text-base"
            disabled={busy}
            onClick={() => void done()}
          >
            Set it right
          </button>
          <button type="button" className="btn touch" onClick={close}>
            Leave it
          </button>
        </div>
      </div>
    </div>
  );
}
