import { X } from "lucide-react";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import { remember, remembered } from "../device/remembered";
import { HangHere, Listen } from "../live/Listen";
import { LoggedHere } from "../live/Logged";
import type { Channel } from "../live/types";
import { useChannelsAt } from "../live/useLive";
import { useVisit } from "../logbook/context";
import { type LoggedReading, pointOf, readBefore, readingsAt, type Station } from "../logbook/logbook";
import { Photos } from "../photos/Photos";
import { SelectField, TextField } from "../shell/fields";
import { Tabs } from "../shell/Tabs";
import { tables } from "../units/tables.gen";
import { useUnits } from "../units/UnitSystem";
import { fromSi, humidityChoices, readableOf, toSi, unitOf } from "../units/units";
import { Derived } from "./Derived";
import { draftAt, useDraft } from "./drafts";
import { InstrumentChoice } from "./InstrumentChoice";
import { useInstrument } from "./instruments";
import { Keypad } from "./Keypad";
import { Points } from "./Points";
import { dryBulbAt, firstOpen, following, humidityAt, isHumidity, type Place, typedHumidity } from "./place";
import { type Slip, slip } from "./slips";
import { numberOf, type PadKey, pasted, press } from "./typed";
import { usePadKeys } from "./usePadKeys";

const HUMIDITY_KEPT = "fentro.humidity";

/** One value at a time at one station: dry bulb, then humidity, then the next point. */
export function ReadingPad({ station: stationId }: { station: string }) {
  const { page, entries, phase, record, openStation } = useVisit();
  const { system } = useUnits();
  const station = page.work_up.path.stations.find((each) => each.id === stationId);
  const readings = readingsAt(entries, stationId, phase);
  const [humidity, setHumidity] = useState(() => remembered(HUMIDITY_KEPT) ?? humidityChoices[0] ?? "");
  // Until something is typed or chosen: the first thing not yet read, also when a fresher answer comes in.
  const here = `${String(page.id)}/${phase}/${stationId}`;
  const [draft] = useState(() => draftAt(here));
  const [chosen, setChosen] = useState<Place | undefined>(draft?.place);
  const order = orderOf(station);
  const place = chosen ?? firstOpen(readings, humidity, order);
  const [typed, setTyped] = useState(draft?.typed ?? "");
  const [refused, setRefused] = useState<Slip | undefined>();
  const [correcting, setCorrecting] = useState<LoggedReading | undefined>(draft?.correcting);
  useDraft(here, { typed, place, correcting });
  const [known, setKnown] = useState("");
  const instrument = useInstrument(place.quantity);

  // With a probe at this station its values stand first; the keypad comes when it is asked for, or something is typed.
  const listening = useChannelsAt(stationId).length > 0;
  const [asked, setAsked] = useState(false);
  const typing = asked || correcting !== undefined;

  const readable = readableOf(place.quantity);
  const unit = unitOf(readable.kind, system);
  const value = numberOf(typed);
  const dryBulb = dryBulbAt(readings, place.point);
  const judge = (done: boolean): Slip | undefined =>
    value === undefined
      ? undefined
      : slip({ quantity: place.quantity, station: stationId, value, unit, system, dryBulb, done });
  const slipped = refused ?? judge(false);
  const full = place.point > tables.most_points;

  const pad = useRef<HTMLElement>(null);
  const key = (pressed: PadKey) => {
    setAsked(true);
    setRefused(undefined);
    setChosen(place);
    // Enter takes what is typed, whatever was touched before.
    pad.current?.focus({ preventScroll: true });
    setTyped((before) => press(before, pressed));
  };
  const goTo = (next: { point: number; quantity: string }) => {
    setRefused(undefined);
    setTyped("");
    setCorrecting(undefined);
    setChosen(next);
    // What is typed next belongs to the pad, whatever was touched to come here.
    pad.current?.focus({ preventScroll: true });
  };
  const close = () => {
    openStation(undefined);
    document.querySelector<HTMLElement>("main")?.focus({ preventScroll: true });
  };
  const paste = (text: string) => {
    const number = pasted(text);
    setRefused(undefined);
    if (number === undefined) {
      setRefused({ text: `There is no single number in “${text.trim().slice(0, 30)}”.`, possible: false });
      return;
    }
    setAsked(true);
    setChosen(place);
    setTyped(number);
    pad.current?.focus({ preventScroll: true });
  };
  const take = (anyway = false) => {
    if (value === undefined || full || instrument.coming) return;
    const found = judge(true);
    if (found && !(anyway && found.possible)) {
      setRefused(found);
      return;
    }
    const body = {
      station: stationId,
      quantity: place.quantity,
      value,
      unit: unit.key,
      point: place.point,
      instrument: instrument.chosen ? String(instrument.chosen.id) : null,
      ...(place.quantity === "airflow" && Number(known) > 0 ? { plus_minus: Number(known) } : {}),
    };
    const before = correcting ?? readBefore(readings, place.point, place.quantity);
    void record("reading", body, before ? { replaces: before.id, reason: "read again" } : {});
    goTo(following(place, humidity, readings, order));
  };
  const hold = (channel: Channel) => {
    const shown = channel.state === "steady" ? channel.mean : channel.value;
    if (shown === null) return;
    const own = unitOf(readableOf(channel.quantity).kind, system);
    const body = {
      station: stationId,
      quantity: channel.quantity,
      value: Number(fromSi(shown, own).toFixed(own.decimals + 1)),
      unit: own.key,
      point: channel.point,
      instrument: channel.instrument,
      held: channel.held,
    };
    const before = readBefore(readings, channel.point, channel.quantity);
    void record("reading", body, {
      ...(before ? { replaces: before.id, reason: "read again" } : {}),
      ...(channel.at ? { at: channel.at } : {}),
    });
  };

  useEffect(() => pad.current?.focus({ preventScroll: true }), []);
  usePadKeys({ key, paste, take, close });

  if (!station) return <p>This system has no such station.</p>;
  const tabs = tabsOf(station, humidity);
  return (
    <div className="grid gap-4 wide:grid-cols-[minmax(320px,400px)_1fr]">
      <section
        ref={pad}
        tabIndex={-1}
        aria-label={`Read at ${station.name}`}
        className="short:grid short:grid-cols-2 short:content-start short:gap-x-3 outline-none"
        onPointerDown={keepFocus}
      >
        <div className="flex items-start justify-between gap-2">
          <h1 className="font-semibold text-xl">
            {station.name}, point {place.point}
          </h1>
          <button
            type="button"
            className="btn btn-ghost touch"
            aria-label="Close the pad (Esc)"
            onClick={close}
          >
            <X size={20} aria-hidden="true" />
          </button>
        </div>
        <div className="mt-1">
          <Tabs
            label="What is read"
            look="keys"
            items={tabs.map((quantity) => ({ key: quantity, name: readableOf(quantity).on_a_key }))}
            chosen={place.quantity}
            choose={(quantity) =>
              goTo({ ...place, quantity, point: quantity === "airflow" ? 1 : place.point })
            }
          />
        </div>
        {!typing && <Listen station={station} quantities={tabs} hold={hold} />}
        {listening && !typing && (
          <button type="button" className="btn touch mt-2 w-full" onClick={() => setAsked(true)}>
            Type a value instead
          </button>
        )}
        <output
          aria-live="polite"
          aria-label="Typed"
          data-testid="typed"
          hidden={listening && !typing}
          className={`short:mt-0 mt-2 short:h-12 h-[72px] ${listening && !typing ? "hidden" : "flex"} items-center justify-end gap-3 rounded border-2 px-3 ${
            slipped ? "border-error" : "border-base-300"
          }`}
        >
          <span className="reading font-semibold text-[52px] leading-none">
            {typed.replace("-", "−") || "–"}
          </span>
          <span className="w-12 pt-4 text-xl">{unit.label}</span>
        </output>
        {slipped && (
          <SlipWords slip={slipped} asked={refused !== undefined} fix={fix} anyway={() => take(true)} />
        )}
        {full && (
          <p role="status" className="mt-2">
            {tables.most_points} points are read here: that is all one station takes. Read one again, or take
            one back.
          </p>
        )}
        {(!listening || typing) && !full && (
          <Keypad
            press={key}
            take={() => take()}
            ready={value !== undefined && !instrument.coming}
            label={takeLabel(correcting)}
          />
        )}
        {typing && <Listen station={station} quantities={tabs} hold={hold} />}
        <HangHere station={station} />
      </section>
      <section aria-label="At this station" className="min-w-0 space-y-3">
        <p className="text-sm">
          <span className="font-semibold">Put the probe:</span> {station.where}{" "}
          <span className="font-semibold">Keep away from:</span> {station.avoid}
        </p>
        <div className="grid gap-2 wide:grid-cols-2">
          {tabs.includes(humidity) && <HumidityChoice humidity={humidity} choose={chooseHumidity} />}
          <InstrumentChoice quantity={place.quantity} {...instrument} />
          {place.quantity === "airflow" && <KnownWidth unit={unit.label} known={known} type={setKnown} />}
        </div>
        {tabs.includes("dry_bulb") && (
          <Derived
            dryBulb={place.quantity === "dry_bulb" && value !== undefined ? toSi(value, unit) : dryBulb}
            humidity={typedHumidity(place.quantity, value, unit) ?? humidityAt(readings, place.point)}
          />
        )}
        <Photos of="station" station={stationId} what={station.name} />
        <LoggedHere station={stationId} quantities={station.quantities} readings={readings} />
        <Points
          station={stationId}
          readings={readings}
          correct={(entry) => {
            goTo({ point: pointOf(entry), quantity: entry.body.quantity });
            setCorrecting(entry);
          }}
          takeBack={(entry) =>
            void record("withdrawal", {}, { replaces: entry.id, reason: "taken back", phase: entry.phase })
          }
        />
      </section>
    </div>
  );

  function fix(instead: string) {
    setRefused(undefined);
    setTyped(instead);
  }
  function chooseHumidity(kind: string) {
    remember(HUMIDITY_KEPT, kind);
    setHumidity(kind);
    if (isHumidity(place.quantity)) goTo({ ...place, quantity: kind });
  }
}

/** A tap on a key leaves the focus with the pad, so that Enter on a keyboard always takes. */
function keepFocus(event: PointerEvent): void {
  if (event.target instanceof HTMLElement && event.target.closest("button")) event.preventDefault();
}

const takeLabel = (correcting: LoggedReading | undefined): string => (correcting ? "Take instead" : "Take");

/** What is read at a station without an air state, in order; at a register the flow comes first. */
function orderOf(station: Station | undefined): string[] {
  if (!station) return [];
  if (station.kind === "register") return ["airflow"];
  return station.quantities.includes("dry_bulb") ? [] : station.quantities;
}

function tabsOf(station: Station, humidity: string): string[] {
  if (!station.quantities.includes("dry_bulb")) return station.quantities;
  const air = ["dry_bulb", ...(station.quantities.includes(humidity) ? [humidity] : [])];
  const more = ["velocity", "airflow"].filter((quantity) => station.quantities.includes(quantity));
  return station.kind === "register" ? ["airflow", ...air] : [...air, ...more];
}

function SlipWords({
  slip: found,
  asked,
  fix,
  anyway,
}: {
  slip: Slip;
  asked: boolean;
  fix: (instead: string) => void;
  anyway: () => void;
}) {
  return (
    <div role="alert" className="mt-2 rounded border border-error p-2">
      <p>{found.text}</p>
      <div className="mt-1 flex flex-wrap gap-2">
        {found.instead && (
          <button type="button" className="btn touch" onClick={() => found.instead && fix(found.instead)}>
            I meant {found.instead}
          </button>
        )}
        {found.possible && asked && (
          <button type="button" className="btn touch" onClick={anyway}>
            It is right, take it
          </button>
        )}
      </div>
    </div>
  );
}

/** How well a flow is known, where it is not the instrument's own figure: a traverse, say. */
function KnownWidth({ unit, known, type }: { unit: string; known: string; type: (known: string) => void }) {
  const odd = known !== "" && !(Number(known) > 0);
  return (
    <TextField
      className="wide:col-span-2"
      label={`Known to ± ${unit}, if better told than by the instrument`}
      mode="decimal"
      value={known}
      onChange={(text) => type(text.replace(",", "."))}
      wrong={odd ? "This must be a number above zero, or empty." : ""}
    />
  );
}

function HumidityChoice({ humidity, choose }: { humidity: string; choose: (kind: string) => void }) {
  return (
    <SelectField
      label="Humidity read as"
      value={humidity}
      onChange={choose}
      options={humidityChoices.map((kind) => ({ key: kind, name: readableOf(kind).name }))}
    />
  );
}
