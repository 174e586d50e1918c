import { useQuery } from "@tanstack/react-query";
import { Check, TriangleAlert } from "lucide-react";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { api, ask, type Schemas } from "../api/client";
import { gatewaysQuery } from "../api/queries";
import { FormSelect, FormText, filled } from "../shell/fields";
import { refusalsOf } from "../shell/refusals";
import { useChange } from "../shell/useChange";
import { when } from "../shell/when";
import { useUnits } from "../units/UnitSystem";

const KINDS = [
  { key: "probes", name: "Live probes" },
  { key: "controllers", name: "Controllers" },
  { key: "zone_boards", name: "Zone boards" },
  { key: "ventilators", name: "Ventilators" },
];
type Kind = Schemas["NewGateway"]["kind"];
const NEW = { kind: "probes", name: "", address: "", site: "all", token: "" };
const ALL_SITES = { key: "all", name: "All sites" };

const LISTS = ["gateways", "probes"];

/** Where the company's live probes and controllers are reached: a lead registers, checks and removes. */
export function Gateways() {
  const { data } = useQuery(gatewaysQuery);
  if (!data) return null;
  return (
    <section className="panel" aria-labelledby="gateways">
      <h2 id="gateways" className="px-4 pt-4 font-semibold text-lg">
        Gateways of probes and controllers
      </h2>
      {data.gateways.length === 0 && (
        <p className="px-4 pt-1">None is registered. Readings are typed, and tests are watched.</p>
      )}
      <ul className="divide-y divide-base-300">
        {data.gateways.map((each) => (
          <Line key={String(each.id)} gateway={each} />
        ))}
      </ul>
      <Add sites={data.sites} />
    </section>
  );
}

function Line({ gateway }: { gateway: Schemas["GatewayLine"] }) {
  const path = { params: { path: { gateway_id: String(gateway.id) } } };
  const check = useChange(LISTS, () => ask(api.POST("/api/v1/gateways/{gateway_id}/check", path)));
  const remove = useChange(LISTS, () => ask(api.DELETE("/api/v1/gateways/{gateway_id}", path)));
  const trouble = check.error ?? remove.error;
  const [sure, setSure] = useState(false);
  return (
    <li className="grid items-center gap-x-5 gap-y-1 p-4 wide:grid-cols-[16rem_1fr_auto]">
      <div>
        <h3 className="font-semibold leading-tight">{gateway.name}</h3>
        <p className="text-sm quiet">
          {gateway.kind_name}, {gateway.site_name || "all sites"}
        </p>
      </div>
      <div>
        <p className="flex items-center gap-2">
          {gateway.answered === true && (
            <Check size={18} className="shrink-0 text-success" aria-hidden="true" />
          )}
          {gateway.answered === false && (
            <TriangleAlert size={18} className="shrink-0 text-error" aria-hidden="true" />
          )}
          {gateway.words || "Not checked yet."}
        </p>
        <p className="text-sm quiet">
          {gateway.address}
          {gateway.has_token && ", with a token"}
          {gateway.checked_at && `. Checked ${when(gateway.checked_at)}`}
        </p>
      </div>
      <div className="flex gap-2">
        <button
          type="button"
          className="btn touch"
          disabled={check.isPending}
          onClick={() => check.mutate(undefined)}
        >
          {check.isPending ? "Asking …" : "Check it"}
        </button>
        <button
          type="button"
          className="btn touch"
          disabled={remove.isPending}
          onClick={() => (sure ? remove.mutate(undefined) : setSure(true))}
        >
          {sure ? "Really remove it" : "Remove"}
        </button>
      </div>
      {trouble && (
        <p role="alert" className="wide:col-span-3">
          {trouble.message}
        </p>
      )}
    </li>
  );
}

function Add({ sites }: { sites: Schemas["SiteChoice"][] }) {
  const { system } = useUnits();
  const { control, handleSubmit, reset } = useForm({ defaultValues: NEW });
  const add = useChange(LISTS, async ({ site, kind, ...form }: typeof NEW) => {
    const body = { ...form, kind: kind as Kind, site: site === "all" ? null : site };
    await ask(api.POST("/api/v1/gateways", { body }));
    reset();
  });
  const wrong = refusalsOf(add.error, system);
  const choices = [ALL_SITES, ...sites.map((each) => ({ key: String(each.id), name: each.name }))];
  return (
    <form
      onSubmit={handleSubmit((form) => add.mutate(form))}
      noValidate
      className="grid items-start gap-3 border-base-300 border-t p-4 wide:grid-cols-[1fr_1fr_1.4fr_1fr_1fr_auto]"
    >
      <FormText
        control={control}
        name="name"
        label="New gateway, name"
        most={80}
        rules={filled("Give it a name.")}
        refused={wrong.name}
      />
      <FormSelect control={control} name="kind" label="Leads to" options={KINDS} />
      <FormText
        control={control}
        name="address"
        label="Address, as http://10.20.0.5:8045"
        most={200}
        rules={filled("Give its address.")}
        refused={wrong.address}
      />
      <FormSelect control={control} name="site" label="Site" options={choices} />
      <FormText
        control={control}
        name="token"
        label="Token, if it wants one"
        most={200}
        refused={wrong.token}
      />
      <button type="submit" className="btn touch wide:mt-7" disabled={add.isPending}>
        Register
      </button>
      {wrong[""] && <p role="alert">{wrong[""]}</p>}
    </form>
  );
}
