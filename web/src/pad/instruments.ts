/** Which instrument reads which quantity on this device; remembered until changed. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { instrumentsQuery } from "../api/queries";
import { remember, remembered } from "../device/remembered";

export type Instrument = Schemas["InstrumentLine"];

const AIR = ["dry_bulb", "relative_humidity", "wet_bulb", "dew_point"];
const keyOf = (quantity: string): string => `fentro.instrument.${AIR.includes(quantity) ? "air" : quantity}`;

export function useInstrument(quantity: string) {
  const { data, isPending } = useQuery(instrumentsQuery);
  const able = (data ?? []).filter((each) => each.quantities.includes(quantity));
  const [choices, setChoices] = useState<Record<string, string>>({});
  const key = keyOf(quantity);
  const wanted = choices[key] ?? remembered(key);
  const chosen =
    wanted === "none"
      ? undefined
      : (able.find((each) => String(each.id) === wanted) ??
        able.find((each) => each.first_for?.includes(quantity)) ??
        able[0]);
  return {
    able,
    chosen,
    /** The list is on its way: a reading taken now would not name what it was read with. */
    coming: isPending,
    choose: (id: string) => {
      remember(key, id);
      setChoices({ ...choices, [key]: id });
    },
  };
}
