import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { systemQuery } from "../../api/queries";
import { useVisit } from "../../logbook/context";
import { Photos } from "../../photos/Photos";
import { Figure } from "../../shell/Figure";
import { when } from "../../shell/when";
import { knownOf, plateFields, plateTyped } from "../../systems/plate";
import type { PlateField } from "../../units/tables";
import { tables } from "../../units/tables.gen";
import { useUnits } from "../../units/UnitSystem";
import { inWords, say } from "../../units/units";

export function Arrive() {
  const { page } = useVisit();
  const { data } = useQuery(systemQuery(String(page.system.id)));
  const earlier = data?.visits.find((visit) => visit.closed_at && String(visit.id) !== String(page.id));
  return (
    <div className="grid gap-4 wide:grid-cols-2">
      <Plate />
      <section className="panel p-4">
        <h2 className="font-semibold">Last time</h2>
        {earlier ? (
          <Link
            to="/visits/$visitId"
            params={{ visitId: String(earlier.id) }}
            search={{ step: "work_out" }}
            className="block hover:underline"
          >
            <p>{earlier.purpose}</p>
            <p className="text-sm quiet">
              {when(earlier.opened_at)}, {earlier.technician}
            </p>
            <div className="mt-2 flex flex-wrap gap-x-6">
              {earlier.numbers.map((each) => (
                <span key={each.key}>
                  <span className="block text-sm quiet">{each.name}</span>
                  <Figure quantity={each.quantity} size="small" />
                </span>
              ))}
            </div>
          </Link>
        ) : (
          <p className="quiet">Nobody has measured here before.</p>
        )}
        {page.work_up.reported && (
          <>
            <h2 className="mt-3 font-semibold">Reported now</h2>
            <p>{page.work_up.reported}</p>
          </>
        )}
      </section>
    </div>
  );
}

/** What the nameplate says, as far as it is known, and what each open field costs. */
function Plate() {
  const { page, question, mayWrite, openTool } = useVisit();
  const { system: units } = useUnits();
  const { kind, nameplate, name, location } = knownOf(question.head);
  const fields = plateFields(kind);
  const typed = plateTyped(kind, nameplate, units);
  const open = fields.filter((field) => !typed[field.key] && field.gives);
  const said = fields.filter((field) => typed[field.key] && typed[field.key] !== field.yes_no);
  const words = (field: PlateField): string => {
    const text = typed[field.key] ?? "";
    if (field.kind) return inWords(Number(nameplate[field.key]), field.kind, units);
    return field.choices?.[text] ?? text;
  };
  return (
    <section className="panel p-4" aria-labelledby="here">
      <h2 id="here" className="font-semibold">
        {name}
      </h2>
      <p className="quiet">{[tables.systems[kind]?.name, location].filter(Boolean).join(". ")}</p>
      <dl className="mt-2 space-y-1">
        {said.map((field) => (
          <div key={field.key} className="flex justify-between gap-3">
            <dt className="quiet">{field.label}</dt>
            <dd className="text-right">{words(field)}</dd>
          </div>
        ))}
        <div className="flex justify-between gap-3">
          <dt className="quiet">{say(page.work_up.pressure_remark, units)}</dt>
          <dd>{inWords(page.work_up.pressure.value, "barometric_pressure", units)}</dd>
        </div>
      </dl>
      {open.length > 0 && (
        <details className="mt-3">
          <summary className="touch flex cursor-pointer items-center font-semibold">
            {open.length === 1 ? "One thing is" : `${open.length} things are`} not read off the nameplate yet
          </summary>
          <dl className="space-y-1">
            {open.map((field) => (
              <div key={field.key}>
                <dt className="inline">{field.label}: </dt>
                <dd className="inline quiet">{field.gives}</dd>
              </div>
            ))}
          </dl>
        </details>
      )}
      <div className="mt-3">
        <Photos of="nameplate" what="Nameplate" />
      </div>
      {mayWrite && (
        <button type="button" className="btn touch mt-3" onClick={() => openTool("right")}>
          {open.length > 0 ? "Read the nameplate" : "Set the nameplate or site right"}
        </button>
      )}
    </section>
  );
}
