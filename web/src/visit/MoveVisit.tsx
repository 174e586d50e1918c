import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { dayQuery, foundSystemsQuery, queries, systemQuery } from "../api/queries";
import { useVisit } from "../logbook/context";
import { SelectField, TextField, Tick } from "../shell/fields";
import { NAMELESS } from "../systems/making";
import { knownOf } from "../systems/plate";

const UNKNOWN = "This device does not know that system. Open it once with signal.";

/** The visit was begun at a unit made on the spot, or at a wrong one: it goes to the one it is at, with all that was read. */
export function MoveVisit({ close }: { close: () => void }) {
  const { page, question, record } = useVisit();
  const { data: day } = useQuery(dayQuery);
  const known = knownOf(question.head);
  const [to, setTo] = useState("");
  const [same, setSame] = useState(known.name.startsWith(NAMELESS));
  const [wrong, setWrong] = useState("");
  const [words, setWords] = useState("");
  const more = Boolean(day?.more_systems);
  const { data: found } = useQuery({
    ...foundSystemsQuery(words.trim()),
    enabled: more && words.trim().length > 1,
  });
  const others = (found?.items ?? day?.systems ?? []).filter(
    (each) => each.kind === known.kind && String(each.id) !== String(page.system.id),
  );
  if (others.length === 0 && !more) return null;
  const move = async () => {
    const chosen = others.find((each) => String(each.id) === to);
    if (!chosen) return setWrong("Choose the system from the list.");
    const there = await queries
      .fetchQuery({ ...systemQuery(to), staleTime: 60_000 })
      .catch(() => queries.getQueryData(systemQuery(to).queryKey));
    if (!there) return setWrong(UNKNOWN);
    const body = {
      system_id: to,
      name: chosen.name,
      site: chosen.site,
      was: `${known.name}, ${known.site.name}`,
      same,
    };
    await record("known_system", body, { phase: "as_found" });
    close();
  };
  return (
    <details className="panel px-4">
      <summary className="touch flex cursor-pointer items-center font-semibold">
        It is another system on the list
      </summary>
      <div className="space-y-3 pb-4">
        <p>
          Everything that was read and noted goes with the visit. The nameplate is then the other system's.
        </p>
        {more && <TextField label="Its name or site" value={words} onChange={setWords} most={100} />}
        <SelectField
          label="Which system"
          options={[
            { key: "", name: "Choose it" },
            ...others.map((each) => ({ key: String(each.id), name: `${each.name}, ${each.site}` })),
          ]}
          value={to}
          onChange={(key) => {
            setTo(key);
            setWrong("");
          }}
          wrong={wrong}
        />
        <Tick value={same} onChange={setSame}>
          {`“${known.name}” was only made for this visit: take it off the list.`}
        </Tick>
        <button type="button" className="btn btn-primary touch text-base" onClick={() => void move()}>
          Move this visit there
        </button>
      </div>
    </details>
  );
}
