import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { dayQuery, queries, systemQuery } from "../../api/queries";
import { useVisit } from "../../logbook/context";
import { SelectField } from "../../shell/fields";
import { knownOf } from "../../systems/plate";
import { treeOf } from "./piece";

/** The ducts of a sister system, taken over whole. */
export function TakenOver() {
  const { page, record } = useVisit();
  const { data: day } = useQuery(dayQuery);
  const [wrong, setWrong] = useState("");
  const sisters = (day?.systems ?? []).filter(
    (each) => each.kind === page.system.kind && String(each.id) !== String(page.system.id),
  );
  if (sisters.length === 0) return null;
  const copy = async (id: string) => {
    setWrong("");
    const there = await queries.fetchQuery({ ...systemQuery(id), staleTime: 60_000 }).catch(() => undefined);
    const tree = there && treeOf(knownOf(there.head).nameplate);
    const source = sisters.find((each) => String(each.id) === id)?.name ?? "";
    if (tree) await record("ducts_taken", { tree, source: source.slice(0, 80) });
    else setWrong("Nobody has noted the ducts of that system, or they are not on this device.");
  };
  return (
    <div>
      <SelectField
        label="Same ducts as another system"
        quiet
        empty="Same ducts as"
        options={sisters.map((each) => ({ key: String(each.id), name: `${each.name}, ${each.site}` }))}
        value=""
        onChange={(id) => void copy(id)}
        className="min-w-56"
      />
      {wrong && <p role="alert">{wrong}</p>}
    </div>
  );
}
