import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Unanswered } from "../api/client";
import type { BodyOf } from "../api/entries";
import { instrumentsQuery } from "../api/queries";
import { calculate } from "../core/calculate";
import { useVisit } from "../logbook/context";
import { NumberField, SelectField } from "../shell/fields";
import { Tabs } from "../shell/Tabs";
import { tables } from "../units/tables.gen";
import { useUnits } from "../units/UnitSystem";
import { readableOf, say, typedSi, unitOf } from "../units/units";

const QUANTITIES = ["dry_bulb", "relative_humidity"];
const ROUNDS = [0, 1, 2];

/** The smallest step among numbers as they were typed: the last digit that the displays show. */
export function lastDigit(texts: string[]): number {
  const decimals = texts.map((text) => text.trim().replace(",", ".").split(".")[1]?.length ?? 0);
  return 10 ** -Math.max(0, ...decimals);
}

/** Probes without a radio, held together and read by eye: each three times, all of them in turn. `beside`: live ones stand above, and these are folded until asked for; once touched, the fold stays as it was left. */
export function ByHand({ beside }: { beside: boolean }) {
  const { record } = useVisit();
  const { system } = useUnits();
  const { data } = useQuery(instrumentsQuery);
  const [quantity, setQuantity] = useState("dry_bulb");
  const [probes, setProbes] = useState<string[]>([]);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [opened, setOpened] = useState<boolean | undefined>();
  const open = opened ?? !beside;
  const kind = readableOf(quantity).kind;
  const able = (data ?? []).filter((each) => each.quantities.includes(quantity));
  const cell = (probe: string, round: number): string => typed[`${probe}/${round}`] ?? "";
  const texts = probes.flatMap((probe) => ROUNDS.map((round) => cell(probe, round)));
  const whole = probes.length >= 2 && texts.every((text) => typedSi(text, kind, system) !== undefined);

  const write = useMutation({
    mutationFn: async () => {
      const series = Object.fromEntries(
        probes.map((probe) => [
          probe,
          ROUNDS.map((round) => typedSi(cell(probe, round), kind, system) ?? Number.NaN),
        ]),
      );
      const given = { series, last_digit: lastDigit(texts) * unitOf(kind, system).factor, quantity };
      const found = await calculate<{ probes: BodyOf<"match">["probes"] }>("measuring.match_by_hand", given);
      const body = { quantity, seconds: tables.match_s, probes: found.probes, by_hand: true };
      await record("match", body, { phase: "as_found" });
      setTyped({});
      setProbes([]);
    },
  });
  const refusal =
    write.error instanceof Unanswered ? write.error.problem?.refusals?.[0]?.sentence : undefined;
  const name = (probe: string) => able.find((each) => String(each.id) === probe)?.name ?? probe;
  return (
    <details
      className="panel p-4"
      open={open}
      onToggle={(event) => {
        if (event.currentTarget.open !== open) setOpened(event.currentTarget.open);
      }}
    >
      <summary className="touch flex cursor-pointer items-center font-semibold text-lg">
        Probes without a radio
      </summary>
      <section className="space-y-3" aria-label="Read by eye">
        <ol className="list-decimal space-y-1 pl-6">
          <li>Hold them together for two minutes.</li>
          <li>Read all of them, one after another. Wait half a minute. Do it three times.</li>
        </ol>
        <Tabs
          label="What is read"
          look="keys"
          items={QUANTITIES.map((each) => ({ key: each, name: readableOf(each).name }))}
          chosen={quantity}
          choose={(next) => {
            setQuantity(next);
            setProbes([]);
            setTyped({});
          }}
        />
        {able.length < 2 ? (
          <p>Fewer than two instruments on the list read this.</p>
        ) : (
          <SelectField
            label={probes.length < 2 ? "Add a probe" : "Add one more"}
            options={able
              .filter((each) => !probes.includes(String(each.id)))
              .map((each) => ({ key: String(each.id), name: each.name }))}
            value=""
            onChange={(probe) => probe && setProbes([...probes, probe])}
          />
        )}
        <ul className="space-y-3">
          {probes.map((probe) => (
            <li key={probe} className="border-base-300 border-t pt-2">
              <div className="flex items-center justify-between gap-3">
                <span className="font-semibold">{name(probe)}</span>
                <button
                  type="button"
                  className="btn touch"
                  onClick={() => setProbes(probes.filter((each) => each !== probe))}
                >
                  Leave out<span className="sr-only"> {name(probe)}</span>
                </button>
              </div>
              <div className="grid grid-cols-3 gap-2">
                {ROUNDS.map((round) => {
                  const text = cell(probe, round);
                  const wrong = text.trim() !== "" && typedSi(text, kind, system) === undefined;
                  return (
                    <NumberField
                      key={round}
                      kind={kind}
                      label={["First", "Second", "Third"][round] ?? ""}
                      value={text}
                      onChange={(next) => setTyped({ ...typed, [`${probe}/${round}`]: next })}
                      wrong={wrong ? "This must be a number." : ""}
                    />
                  );
                })}
              </div>
            </li>
          ))}
        </ul>
        <button
          type="button"
          className="btn btn-primary touch text-base"
          disabled={!whole || write.isPending}
          onClick={() => write.mutate()}
        >
          Write the match down
        </button>
        {write.isError && (
          <p role="alert">
            {refusal ? say(refusal, system) : "This can't be worked out just now. What you typed stays here."}
          </p>
        )}
      </section>
    </details>
  );
}
