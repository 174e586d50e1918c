/** Entries of a logbook, each kind with its own body, as the API publishes them. */
import type { Schemas } from "./client";

type AnyEntry = Schemas["VisitPage"]["entries"][number];

export type Kind = AnyEntry["kind"];
export type Phase = AnyEntry["phase"];

/** What an entry of a kind says. */
export type BodyOf<K extends Kind> = Extract<AnyEntry, { kind: K }>["body"];

interface Head {
  id: string;
  at: string;
  phase: Phase;
  replaces?: string | null;
  reason?: string;
  /** Which core judged it here, where one did. */
  core?: string;
}

/** An entry made on this device. */
export type NewEntryOf<K extends Kind> = Head & { kind: K; body: BodyOf<K> };
export type NewEntry = { [K in Kind]: NewEntryOf<K> }[Kind];

interface Known {
  id: string;
  at: string;
  phase: Phase;
  /** The server's time; nothing while it waits on the device. */
  received_at?: string;
  by: string;
  replaces: string | null;
  reason: string;
  /** It is on the device, and not on the server yet. */
  waiting: boolean;
}

/** An entry as the logbook shows it. */
export type LoggedOf<K extends Kind> = Known & { kind: K; body: BodyOf<K> };
export type Logged = { [K in Kind]: LoggedOf<K> }[Kind];
