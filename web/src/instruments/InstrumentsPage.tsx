import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { BatteryLow, Radio, TriangleAlert, Unplug } from "lucide-react";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { api, ask, type Schemas } from "../api/client";
import { instrumentListQuery, probesQuery } from "../api/queries";
import { TopBar } from "../frame/TopBar";
import { FormSelect, FormText, filled, SelectField, TextField } from "../shell/fields";
import { Loading } from "../shell/Loading";
import { refusalsOf } from "../shell/refusals";
import { useChange } from "../shell/useChange";
import { useTitle } from "../shell/useTitle";
import { dayOf } from "../shell/when";
import { useUnits } from "../units/UnitSystem";
import { accuracyWords, classWords } from "./accuracy";
import { Gateways } from "./Gateways";

const LISTS = ["instruments"];

type Instrument = Schemas["InstrumentPage"];

/** What the company reads with: how well, who has it, when it is due; and the probes within reach. */
export function InstrumentsPage() {
  const query = useQuery(instrumentListQuery);
  useTitle("Instruments and probes");
  return (
    <div className="flex h-full flex-col">
      <TopBar />
      <Loading query={query} what="the instruments">
        {(list) => (
          <main className="mx-auto w-full max-w-6xl flex-1 space-y-5 overflow-y-auto p-4">
            <h1 className="font-semibold text-2xl">Instruments and probes</h1>
            <ul className="panel divide-y divide-base-300">
              {list.instruments.map((each) => (
                <Line key={String(each.id)} instrument={each} mayChange={list.may_change} />
              ))}
            </ul>
            {list.may_change && <Add classes={list.classes} />}
            <Gateway />
            {list.may_change && <Gateways />}
          </main>
        )}
      </Loading>
    </div>
  );
}

const KIND = (kind: string): string => kind.replaceAll("_", " ");

function Line({ instrument, mayChange }: { instrument: Instrument; mayChange: boolean }) {
  const { system } = useUnits();
  const [open, setOpen] = useState(false);
  const id = String(instrument.id);
  const take = useChange(LISTS, () =>
    ask(api.POST("/api/v1/instruments/{instrument_id}/taken", { params: { path: { instrument_id: id } } })),
  );
  return (
    <li className="grid items-center gap-x-5 gap-y-1 p-3 wide:grid-cols-[14rem_1fr_14rem_17rem]">
      <div>
        <h2 className="font-semibold text-lg leading-tight">{instrument.name}</h2>
        <p className="text-sm quiet">
          {KIND(instrument.kind)}
          {instrument.serial && (
            <>
              , <span className="whitespace-nowrap">{instrument.serial}</span>
            </>
          )}
        </p>
      </div>
      <p className="text-sm">{accuracyWords(instrument.accuracy, system)}</p>
      <p className={instrument.overdue ? "font-semibold text-error" : ""}>
        {(instrument.overdue || instrument.due_soon) && (
          <TriangleAlert size={16} className="mr-1 inline" aria-hidden="true" />
        )}
        {instrument.calibration_due_on
          ? `${instrument.overdue ? "Overdue since" : instrument.due_soon ? "Due soon," : "Due"} ${dayOf(instrument.calibration_due_on)}`
          : "No calibration noted"}
        {instrument.overdue && (
          <span className="block font-normal text-base-content text-sm">
            Its ± counts double until it is calibrated.
          </span>
        )}
      </p>
      <div className="flex flex-wrap items-center gap-2 wide:justify-end">
        <span className="text-sm">
          {instrument.mine
            ? "You have it"
            : instrument.held_by
              ? `${instrument.held_by} has it`
              : "Nobody has it"}
        </span>
        {!instrument.mine && (
          <button
            type="button"
            className="btn touch"
            disabled={take.isPending}
            onClick={() => take.mutate(undefined)}
          >
            I have it
          </button>
        )}
        {mayChange && (
          <button type="button" className="btn touch" onClick={() => setOpen(!open)} aria-expanded={open}>
            Calibrated
          </button>
        )}
      </div>
      {take.isError && (
        <p role="alert" className="wide:col-span-4">
          {take.error.message}
        </p>
      )}
      {open && <Calibrate id={id} done={() => setOpen(false)} />}
    </li>
  );
}

function Calibrate({ id, done }: { id: string; done: () => void }) {
  const { system } = useUnits();
  const { control, handleSubmit } = useForm({ defaultValues: { calibrated_on: "", calibration_due_on: "" } });
  const change = useChange(LISTS, async (dates: { calibrated_on: string; calibration_due_on: string }) => {
    await ask(
      api.POST("/api/v1/instruments/{instrument_id}/calibration", {
        params: { path: { instrument_id: id } },
        body: dates,
      }),
    );
    done();
  });
  const wrong = refusalsOf(change.error, system);
  const day = filled("Give the day.");
  return (
    <form
      onSubmit={handleSubmit((dates) => change.mutate(dates))}
      className="flex flex-wrap items-start gap-3 wide:col-span-4"
      noValidate
    >
      <FormText
        control={control}
        name="calibrated_on"
        label="Calibrated on"
        type="date"
        rules={day}
        refused={wrong.calibrated_on}
      />
      <FormText
        control={control}
        name="calibration_due_on"
        label="Next due on"
        type="date"
        rules={day}
        refused={wrong.calibration_due_on}
      />
      <button type="submit" className="btn btn-primary touch mt-7" disabled={change.isPending}>
        Write down
      </button>
      {wrong[""] && <p role="alert">{wrong[""]}</p>}
    </form>
  );
}

const NEW = { name: "", serial: "", accuracy_class: "air_field" };

function Add({ classes }: { classes: Schemas["AccuracyClass"][] }) {
  const { system } = useUnits();
  const { control, handleSubmit, reset } = useForm({ defaultValues: NEW });
  const add = useChange(LISTS, async (form: typeof NEW) => {
    await ask(
      api.POST("/api/v1/instruments", { body: { ...form, calibrated_on: null, calibration_due_on: null } }),
    );
    reset();
  });
  const wrong = refusalsOf(add.error, system);
  return (
    <form
      onSubmit={handleSubmit((form) => add.mutate(form))}
      noValidate
      className="panel grid items-start gap-3 p-4 wide:grid-cols-[1fr_1fr_1.6fr_auto]"
    >
      <FormText
        control={control}
        name="name"
        label="New instrument, name"
        most={80}
        rules={filled("Give it a name.")}
        refused={wrong.name}
      />
      <FormText control={control} name="serial" label="Serial number" most={80} refused={wrong.serial} />
      <FormSelect
        control={control}
        name="accuracy_class"
        label="Accuracy class"
        options={classes.map((each) => ({ key: each.key, name: classWords(each, system) }))}
      />
      <button type="submit" className="btn touch wide:mt-7" disabled={add.isPending}>
        Add
      </button>
      {wrong[""] && <p role="alert">{wrong[""]}</p>}
    </form>
  );
}

/** The probes within reach; for simulated ones, what they simulate. */
function Gateway() {
  const { data } = useQuery({ ...probesQuery, refetchInterval: 5_000 });
  if (!data?.reachable) {
    return (
      <section className="panel p-4">
        <h2 className="font-semibold text-lg">Live probes</h2>
        <p>No live probes answer here. Readings are typed.</p>
      </section>
    );
  }
  return (
    <section className="panel space-y-3 p-4">
      <h2 className="flex items-center gap-2 font-semibold text-lg">
        <Radio size={20} aria-hidden="true" /> Live probes within reach
      </h2>
      <ul className="grid gap-x-6 gap-y-1 wide:grid-cols-3">
        {data.probes.map((probe) => (
          <li key={probe.serial} className="flex items-center gap-2">
            {!probe.reachable && <Unplug size={16} className="text-error" aria-label="out of reach" />}
            {probe.battery < 0.15 && (
              <BatteryLow size={16} className="text-warning" aria-label="battery low" />
            )}
            <span className="flex-1">
              {probe.name}
              {!probe.instrument && <span className="text-sm quiet">, not on the list</span>}
            </span>
            <span className="reading text-sm quiet">{Math.round(probe.battery * 100)} %</span>
          </li>
        ))}
      </ul>
      {data.scene && <Scene scene={data.scene} />}
    </section>
  );
}

const SPEEDS = [1, 10, 60, 120];

function Scene({ scene }: { scene: NonNullable<Schemas["Probes"]["scene"]> }) {
  const known = useQueryClient();
  const [seed, setSeed] = useState(String(scene.seed));
  const change = useMutation({
    mutationFn: (given: { scenario: string; seed: number; speed: number }) =>
      ask(api.POST("/api/v1/probes/scene", { body: given })),
    onSuccess: (answer) => known.setQueryData(probesQuery.queryKey, answer),
  });
  // What was chosen last counts, also before it was answered.
  const now = change.variables ?? { scenario: scene.scenario, seed: scene.seed, speed: scene.speed };
  const wrong = !/^\d{1,9}$/.test(seed);
  return (
    <div className="border-base-300 border-t pt-3">
      <p className="text-sm quiet">These probes are simulated. Choosing begins the simulation again.</p>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <SelectField
          className="min-w-64"
          label="What happens"
          value={scene.scenario}
          onChange={(scenario) => change.mutate({ ...now, scenario })}
          options={scene.scenarios.map((each) => ({ key: each.key ?? "", name: each.name ?? "" }))}
        />
        <TextField
          className="w-32"
          label="Seed"
          mode="numeric"
          value={seed}
          onChange={setSeed}
          onBlur={() =>
            !wrong && Number(seed) !== scene.seed && change.mutate({ ...now, seed: Number(seed) })
          }
        />
        <SelectField
          className="w-32"
          label="Time runs"
          value={String(scene.speed)}
          onChange={(speed) => change.mutate({ ...now, speed: Number(speed) })}
          options={[...new Set([...SPEEDS, scene.speed])].map((each) => ({
            key: String(each),
            name: `${each} times`,
          }))}
        />
      </div>
      {wrong && <p role="alert">The seed is a whole number of up to nine digits.</p>}
      {change.isError && <p role="alert">{change.error.message}</p>}
    </div>
  );
}
