import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { companyQuery } from "../api/office";
import { SelectField, TextField } from "../shell/fields";
import { Loading } from "../shell/Loading";
import { refusalsOf } from "../shell/refusals";
import { useChange } from "../shell/useChange";
import { useUnits } from "../units/UnitSystem";

type Company = Schemas["CompanyOut"];
type LeftNames = "name" | "initials" | "hidden";

const LEFT = [
  { key: "name", name: "By their name" },
  { key: "initials", name: "By their initials" },
  { key: "hidden", name: "Someone who left" },
];

/** What stands on reports, and how people who left are called. */
export function Papers() {
  const query = useQuery(companyQuery);
  return (
    <section className="space-y-3" aria-labelledby="papers">
      <h2 id="papers" className="font-semibold text-lg">
        The company's papers
      </h2>
      <Loading query={query} what="the company">
        {(company) => <Form key={company.letterhead} company={company} />}
      </Loading>
    </section>
  );
}

function Form({ company }: { company: Company }) {
  const { system } = useUnits();
  const [text, setText] = useState(company.letterhead);
  const [asked, setAsked] = useState<LeftNames | undefined>();
  const change = useChange(["company", "people", "day"], (body: Schemas["CompanyChange"]) =>
    ask(api.PATCH("/api/v1/company", { body })),
  );
  const wrong = refusalsOf(change.error, system);
  return (
    <div className="panel grid items-start gap-4 p-4 wide:grid-cols-2">
      <form
        className="space-y-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ letterhead: text });
        }}
      >
        <TextField
          label={`Under “${company.name}” on reports: address, telephone, licence`}
          rows={4}
          most={600}
          value={text}
          onChange={setText}
          wrong={wrong.letterhead ?? ""}
        />
        <button
          type="submit"
          className="btn touch"
          disabled={change.isPending || text === company.letterhead}
        >
          Keep this
        </button>
      </form>
      <div className="space-y-2">
        <SelectField
          label="People who left are called"
          options={LEFT}
          value={asked ?? company.left_names}
          onChange={(key) => {
            if (key === "name") change.mutate({ left_names: "name" });
            else if (key !== company.left_names) setAsked(key as LeftNames);
          }}
        />
        {asked && (
          <div className="border-error border-l-4 bg-base-200 p-3" role="alert">
            <p>
              {company.people_left === 0
                ? "From now on, the name of whoever leaves is taken out of the records."
                : `The names of ${company.people_left} who left are taken out of the records.`}{" "}
              It can't be undone. Reports that were signed keep the names under them.
            </p>
            <div className="mt-2 flex gap-2">
              <button
                type="button"
                className="btn touch"
                onClick={() => {
                  change.mutate({ left_names: asked });
                  setAsked(undefined);
                }}
              >
                Take them out
              </button>
              <button type="button" className="btn touch" onClick={() => setAsked(undefined)}>
                Leave it
              </button>
            </div>
          </div>
        )}
      </div>
      {wrong[""] && <p role="alert">{wrong[""]}</p>}
    </div>
  );
}
