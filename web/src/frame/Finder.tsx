import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Autocomplete, Input, Menu, MenuItem, TextField } from "react-aria-components";
import { dayQuery, foundSystemsQuery } from "../api/queries";
import { when } from "../shell/when";

interface Found {
  to: string;
  name: string;
  what: string;
}

/** Find anything by a few letters: systems, sites, open visits. */
export function Finder({
  typed,
  onTyped,
  onTaken,
  entered,
  onEntered,
  onClose,
  go,
}: {
  typed: string;
  onTyped: (typed: string) => void;
  /** The field has the keys from here on. */
  onTaken: () => void;
  /** Enter was pressed before there was anything to choose. */
  entered: boolean;
  onEntered: () => void;
  onClose: () => void;
  go: (to: string) => void;
}) {
  const { data } = useQuery(dayQuery);
  const wide = Boolean(data?.more_systems) && typed.trim().length > 1;
  const asked = useQuery({ ...foundSystemsQuery(typed.trim()), enabled: wide });
  const systems = wide && asked.data ? asked.data.items : (data?.systems ?? []);
  const all: Found[] = [
    ...[...(data?.open ?? []), ...(data?.today ?? [])].map((visit) => ({
      to: `/visits/${visit.id}`,
      name: `${visit.system.site}, ${visit.system.name}`,
      what: [
        `${visit.closed_at ? (visit.cancelled ? "cancelled" : "closed") : "open"} visit, ${when(visit.opened_at)}`,
        visit.purpose,
      ]
        .filter(Boolean)
        .join(": "),
    })),
    ...systems.map((system) => ({
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
  const chosen = entered && !(wide && asked.isFetching) ? found[0]?.to : undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was entered is chosen once
  useEffect(() => {
    if (chosen) choose(chosen);
  }, [chosen]);
  return (
    <>
      <Autocomplete>
        <TextField
          autoFocus
          aria-label="A few letters of a system, site or visit"
          value={typed}
          onChange={onTyped}
          onFocus={onTaken}
          onKeyDown={(event) => {
            const pointed = (event.target as Element).getAttribute("aria-activedescendant");
            if (event.key === "Enter" && !pointed) onEntered();
          }}
        >
          <Input className="input touch w-full" placeholder="A few letters" />
        </TextField>
        <Menu
          className="mt-2 outline-none"
          aria-label="Found"
          items={found.map((each) => ({ ...each, id: each.to }))}
          onAction={(to) => choose(String(to))}
          renderEmptyState={() => (
            <p className="p-3 quiet">Nothing matches. Closed visits and notes are found below.</p>
          )}
        >
          {(each) => (
            <MenuItem
              id={each.to}
              textValue={each.name}
              className={({ isFocused }) =>
                `touch flex cursor-pointer items-center justify-between gap-3 rounded px-3 outline-none ${
                  isFocused ? "bg-base-200" : ""
                }`
              }
            >
              <span className="truncate">{each.name}</span>
              <span className="quiet text-sm">{each.what}</span>
            </MenuItem>
          )}
        </Menu>
      </Autocomplete>
      <button
        type="button"
        className="btn touch mt-2 w-full"
        onClick={() => choose(`/search${typed.trim() ? `?words=${encodeURIComponent(typed.trim())}` : ""}`)}
      >
        Search everything, closed visits and notes too
      </button>
    </>
  );
}
