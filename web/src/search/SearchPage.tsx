import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { ChevronRight } from "lucide-react";
import { useState } from "react";
import { type Asked, KINDS, toAddress } from "../api/asked";
import type { Schemas } from "../api/client";
import { searchPage, searchQuery } from "../api/office";
import { dayQuery } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { Choices, SelectField, TextField } from "../shell/fields";
import { Loading } from "../shell/Loading";
import { More } from "../shell/More";
import { useMore } from "../shell/useMore";
import { useTitle } from "../shell/useTitle";
import { when } from "../shell/when";

type Hits = Schemas["Hits"];
type Hit = Schemas["Hit"];

/** Everything of the company by words: typed above, narrowed beside, each kind a list of its own. */
export function SearchPage() {
  const asked = useSearch({ from: "/inside/search" });
  const go = useNavigate({ from: "/search" });
  const [typed, setTyped] = useState(asked.words ?? "");
  const set = (more: Asked) => go({ search: (now) => toAddress({ ...now, ...more }), replace: true });
  useTitle("Find", asked.words);
  const query = useQuery(searchQuery(asked));
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<span className="font-semibold">Find</span>} />
      <main className="mx-auto w-full max-w-5xl flex-1 space-y-4 overflow-y-auto p-4" tabIndex={-1}>
        <h1 className="sr-only">Find anything</h1>
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            void set({ words: typed });
          }}
        >
          <TextField
            className="flex-1"
            label="Words: a site, a unit, its serial number, a complaint, a note, a name"
            value={typed}
            onChange={setTyped}
            most={200}
          />
          <button type="submit" className="btn btn-primary touch text-base">
            Find
          </button>
        </form>
        <Filters asked={asked} set={set} />
        <Loading query={query} what="what was found">
          {(data) => <Found found={data.found} asked={asked} />}
        </Loading>
      </main>
    </div>
  );
}

function Filters({ asked, set }: { asked: Asked; set: (more: Asked) => void }) {
  const day = useQuery(dayQuery);
  const sites = new Map((day.data?.systems ?? []).map((each) => [String(each.site_id), each.site]));
  return (
    <div className="space-y-3">
      <Choices
        label="What"
        quiet
        options={{ all: "Everything", ...KINDS }}
        value={asked.kind ?? "all"}
        onChange={(kind) => set({ kind: kind === "all" ? undefined : kind })}
      />
      <details className="panel p-3" open={Boolean(asked.site || asked.since || asked.until || asked.state)}>
        <summary className="touch flex cursor-pointer items-center">Only of a site, of some days …</summary>
        <div className="mt-2 grid items-start gap-3 wide:grid-cols-4">
          <SelectField
            label="Site"
            value={asked.site ?? "all"}
            onChange={(site) => set({ site: site === "all" ? undefined : site })}
            options={[
              { key: "all", name: "Every site" },
              ...[...sites].map(([key, name]) => ({ key, name })),
            ]}
          />
          <SelectField
            label="Visits"
            value={asked.state ?? "all"}
            onChange={(state) => set({ state: state === "all" ? undefined : state })}
            options={[
              { key: "all", name: "Open and closed" },
              { key: "open", name: "Open ones" },
              { key: "closed", name: "Closed ones" },
            ]}
          />
          <TextField
            label="From"
            type="date"
            value={asked.since ?? ""}
            onChange={(since) => set({ since: since || undefined })}
          />
          <TextField
            label="To"
            type="date"
            value={asked.until ?? ""}
            onChange={(until) => set({ until: until || undefined })}
          />
        </div>
      </details>
    </div>
  );
}

function Found({ found, asked }: { found: Hits[]; asked: Asked }) {
  if (!asked.words && !asked.kind)
    return (
      <p className="quiet">Type a few letters of what you look for. The beginning of a word is enough.</p>
    );
  if (found.every((each) => each.hits.length === 0))
    return (
      <p className="panel p-5">
        Nothing here has {asked.words ? `“${asked.words}”` : "that"}. Fewer words find more; the beginning of
        a word is enough.
      </p>
    );
  return (
    <>
      {found.map((each) => (
        <KindOf key={`${each.kind} ${JSON.stringify(asked)}`} hits={each} asked={asked} />
      ))}
    </>
  );
}

function KindOf({ hits, asked }: { hits: Hits; asked: Asked }) {
  const list = useMore(hits.hits, hits.more === null ? null : String(hits.more), (from) =>
    searchPage({ ...asked, kind: hits.kind }, Number(from)),
  );
  return (
    <section aria-labelledby={`found-${hits.kind}`}>
      <h2 id={`found-${hits.kind}`} className="mb-2 font-semibold text-lg">
        {hits.name}
      </h2>
      <ul className="panel divide-y divide-base-300">
        {list.items.map((hit, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the list only grows at its end
          <li key={index}>
            <Line hit={hit} />
          </li>
        ))}
      </ul>
      <More list={list} />
    </section>
  );
}

function Line({ hit }: { hit: Hit }) {
  const words = (
    <span className="min-w-0 flex-1">
      <span className="block font-semibold">{hit.title}</span>
      <span className="block text-sm quiet">
        {[hit.where, hit.words, hit.at ? when(hit.at) : ""].filter(Boolean).join(" · ")}
      </span>
    </span>
  );
  const look = "touch flex items-center gap-3 p-3";
  const open = hit.open ? String(hit.open) : "";
  if (open && hit.kind === "systems")
    return (
      <Link to="/systems/$systemId" params={{ systemId: open }} className={`${look} hover:bg-base-200`}>
        {words}
        <ChevronRight size={20} aria-hidden="true" />
      </Link>
    );
  if (open && (hit.kind === "visits" || hit.kind === "notes"))
    return (
      <Link to="/visits/$visitId" params={{ visitId: open }} className={`${look} hover:bg-base-200`}>
        {words}
        <ChevronRight size={20} aria-hidden="true" />
      </Link>
    );
  return <div className={look}>{words}</div>;
}
