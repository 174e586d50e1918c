import { useVisit } from "../context";

export function Trace() {
  const { page } = useVisit();
  return (
    <ul className="panel divide-y divide-base-300">
      {page.work_up.path.stations.map((station) => (
        <li key={station.id} className="p-3">
          <h2 className="font-semibold">{station.name}</h2>
          <p>{station.where}</p>
          <p className="text-sm quiet">Keep away from: {station.avoid}</p>
        </li>
      ))}
    </ul>
  );
}
