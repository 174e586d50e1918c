import { Unplug } from "lucide-react";
import { useVisit } from "../logbook/context";
import { useLive } from "./useLive";

/** Said at once, whatever is open: which probe at which station is out of reach. */
export function LostProbes() {
  const { picture, on } = useLive();
  const { page } = useVisit();
  if (!on || !picture) return null;
  const hung = picture.channels.filter((channel) => channel.station !== "");
  if (hung.length === 0) return null;
  const name = (id: string) => page.work_up.path.stations.find((station) => station.id === id)?.name ?? id;
  const lost = [
    ...new Set(
      hung.filter((channel) => channel.lost).map((channel) => `${channel.name} (${name(channel.station)})`),
    ),
  ];
  if (lost.length === 0) return null;
  const words = picture.connected
    ? `Out of reach: ${lost.join(", ")}. Bring the tablet closer, or look at the battery.`
    : "The probes do not answer. No value is live until they do.";
  return (
    <p role="alert" className="mb-3 flex items-start gap-2 rounded border-2 border-error px-3 py-2">
      <Unplug size={20} className="mt-0.5 shrink-0 text-error" aria-hidden="true" />
      {words}
    </p>
  );
}
