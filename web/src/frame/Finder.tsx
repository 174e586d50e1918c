import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { dayQuery } from "../api/queries";
import { Panel } from "../shell/Panel";

interface Found {
  to: string;
  name: string;
  what: string;
}

/** Find anything by a few letters: systems, sites, open visits. */
export function Finder({ onClose, go }: { onClose: () => void; go: (to: string) => void }) {
  const { data } = useQuery(dayQuery);
  const [typed, setTyped] = useState("");
  const all: Found[] = [
    ...(data?.open ?? []).map((visit) => ({
      to: `/visits/${visit.id}`,
      name: `${visit.system.site}, ${visit.system.name}`,
      what: "open visit",
    })),
    ...(data?.systems ?? []).map((system) => ({
      to: `/systems/${system.id}`,
      name: `${system.site}, ${system.name}`,
      what: system.kind_name,
    })),
  ];
  const words = typed.toLowerCase().split(/\s+/);
  const found = all.filter((each) =>
    words.every((word) => `${each.name} ${each.what}`.toLowerCase().includes(word)),
  );
  const choose = (to: string) => {
    onClose();
    go(to);
  };
  return (
    <Panel title="Find" onClose={onClose}>
      <input
        data-focus
        className="input touch w-full"
        aria-label="A few letters of a system, site or visit"
        placeholder="A few letters"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && found[0] && choose(found[0].to)}
      />
      <ul className="mt-2">
        {found.map((each) => (
          <li key={each.to}>
            <button
              type="button"
              className="btn btn-ghost touch w-full justify-between font-normal"
              onClick={() => choose(each.to)}
            >
              <span className="truncate">{each.name}</span>
              <span className="quiet text-sm">{each.what}</span>
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="p-3 quiet">Nothing has these letters.</li>}
      </ul>
    </Panel>
  );
}
