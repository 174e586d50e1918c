import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { systemQuery } from "../../api/queries";
import { useVisit } from "../../logbook/context";
import { Figure } from "../../shell/Figure";
import { when } from "../../shell/when";
import { useUnits } from "../../units/UnitSystem";
import { inWords, say } from "../../units/units";

export function Arrive() {
  const { page } = useVisit();
  const { system } = useUnits();
  const { data } = useQuery(systemQuery(String(page.system.id)));
  const earlier = data?.visits.find((visit) => visit.closed_at && String(visit.id) !== String(page.id));
  return (
    <div className="grid gap-4 wide:grid-cols-2">
      <section className="panel p-4">
        <h2 className="font-semibold">{page.system.kind_name}</h2>
        <p className="quiet">{page.system.location}</p>
        <dl className="mt-2 space-y-1">
          {data?.plate
            .filter((line) =>
              ["Maker", "Model", "Rated cooling, total", "Rated airflow"].includes(line.label),
            )
            .map((line) => (
              <div key={line.label} className="flex justify-between gap-3">
                <dt className="quiet">{line.label}</dt>
                <dd>{line.number ? inWords(line.number.value, line.number.kind, system) : line.text}</dd>
              </div>
            ))}
          <div className="flex justify-between gap-3">
            <dt className="quiet">{say(page.work_up.pressure_remark, system)}</dt>
            <dd>{inWords(page.work_up.pressure.value, "barometric_pressure", system)}</dd>
          </div>
        </dl>
      </section>
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
