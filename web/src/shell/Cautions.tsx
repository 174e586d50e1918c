import { TriangleAlert } from "lucide-react";

/** What can hurt, beside the step where it can. */
export function Cautions({ label, said }: { label: string; said: readonly string[] }) {
  if (said.length === 0) return null;
  return (
    <ul className="space-y-1 border-accent border-l-4 pl-3" aria-label={label}>
      {said.map((each) => (
        <li key={each} className="flex gap-2 text-sm">
          <TriangleAlert size={18} className="shrink-0 text-accent" aria-hidden="true" /> {each}
        </li>
      ))}
    </ul>
  );
}
