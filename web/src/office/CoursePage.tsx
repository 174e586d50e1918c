import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { auditPage, auditQuery } from "../api/office";
import { peopleQuery } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { SelectField } from "../shell/fields";
import { Loading } from "../shell/Loading";
import { More } from "../shell/More";
import { useMore } from "../shell/useMore";
import { useTitle } from "../shell/useTitle";
import { stamp } from "../shell/when";

type Things = Schemas["DoneThings"];

/** Who did what when, across all visits, the latest first. */
export function CoursePage() {
  const [person, setPerson] = useState("all");
  const [kind, setKind] = useState("all");
  const asked = { ...(person === "all" ? {} : { person }), ...(kind === "all" ? {} : { kind }) };
  const people = useQuery(peopleQuery);
  const query = useQuery(auditQuery(asked));
  useTitle("Who did what");
  return (
    <div className="flex h-full flex-col">
      <TopBar place={<span className="font-semibold">Who did what</span>} />
      <main className="mx-auto w-full max-w-5xl flex-1 space-y-4 overflow-y-auto p-4" tabIndex={-1}>
        <h1 className="font-semibold text-2xl">Who did what, when</h1>
        <div className="grid gap-3 wide:grid-cols-2">
          <SelectField
            label="Who"
            value={person}
            onChange={setPerson}
            options={[
              { key: "all", name: "Everybody" },
              ...(people.data ?? []).map((each) => ({ key: String(each.id), name: each.name })),
            ]}
          />
          <SelectField
            label="What"
            value={kind}
            onChange={setKind}
            options={[
              { key: "all", name: "Everything" },
              ...Object.entries(query.data?.kinds ?? {}).map(([key, name]) => ({ key, name })),
            ]}
          />
        </div>
        <Loading query={query} what="what was done">
          {(things) => <Lines key={`${person} ${kind}`} things={things} asked={asked} />}
        </Loading>
      </main>
    </div>
  );
}

function Lines({ things, asked }: { things: Things; asked: { person?: string; kind?: string } }) {
  const list = useMore(things.lines, things.more, (from) => auditPage(asked, from));
  return (
    <>
      {list.items.length === 0 && <p className="panel p-4">Nothing of this was done yet.</p>}
      <ul className="panel divide-y divide-base-300">
        {list.items.map((line, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the list only grows at its end
          <li key={index} className="grid gap-x-4 p-3 wide:grid-cols-[13rem_11rem_1fr]">
            <span className="reading text-sm">{stamp(line.at)}</span>
            <span className="font-semibold">{line.person}</span>
            <span>
              {line.what}
              {line.about && <span className="quiet">. {line.about}</span>}
              {line.visit && (
                <Link
                  to="/visits/$visitId"
                  params={{ visitId: String(line.visit) }}
                  className="ml-2 underline"
                >
                  Open
                </Link>
              )}
            </span>
          </li>
        ))}
      </ul>
      <More list={list} />
    </>
  );
}
