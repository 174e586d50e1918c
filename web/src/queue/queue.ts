/**
 * Entries on their way to the server. Taken means: on the device. Acknowledged means: committed on the server; only then
 * does an entry leave the device. Each has an id made here, so sending twice is harmless.
 */
import { api, ask, type Schemas, Unanswered } from "../api/client";
import type { NewEntry } from "../api/entries";
import { queries, visitKey } from "../api/queries";
import { core } from "../core/core";
import { journal } from "./journal";
import { sendMaking } from "./sending";
import type { Made, Making, Waiting } from "./store";
import * as store from "./store";

export type Link = "idle" | "sending" | "away" | "signed_out";

export interface QueueState {
  waiting: Waiting[];
  refused: Waiting[];
  /** Made here, and not on the server yet; those with a refusal stay until someone has looked at them. */
  making: Making[];
  link: Link;
  /** The device could not keep the last entry (no room, or storage forbidden): it lives in this page only. */
  fragile: boolean;
}

type Page = Schemas["VisitPage"];
type Receipt = Schemas["Receipt"];
/** Who is told of what the server answered. */
export type Hear = (receipt: Receipt) => void | Promise<void>;
export type Post = (visit: string, entries: NewEntry[]) => Promise<Receipt>;

const BATCH = 100;
/** Answers that repeating won't change. A 403 without the API's own words is a page token gone stale: that is renewed. */
const FINAL = new Set([400, 403, 404, 409, 413, 422]);
const PAUSES_MS = [500, 1_000, 2_000, 4_000, 8_000, 15_000];

const postEntries: Post = (visit, entries) =>
  ask(
    api.POST("/api/v1/visits/{visit_id}/entries", {
      params: { path: { visit_id: visit } },
      body: {
        entries,
        after: queries.getQueryData<Page>(visitKey(visit))?.number ?? 0,
        // The device works the visit out itself, where it has the server's core and what it needs.
        core: core.state === "ready" && queries.getQueryData(visitKey(visit)) ? core.version : "",
        weigh: false,
      },
    }),
  );

/** The server is there and fails: on one entry of the batch, perhaps. */
const FAILED = 500;
/** So often an entry is tried alone before it is set aside. */
const TRIES_ALONE = 3;

export class Queue {
  private person = "";
  private name = "";
  private running = false;
  private once = false;
  private failures = 0;
  /** Entries still to be sent one by one, after the server failed on a batch. */
  private alone = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private unkept: Waiting[] = [];
  /** How often rows were kept: whoever reads what is kept sees by it that more has come. */
  private puts = 0;
  private unkeptMakings: Making[] = [];
  private made: (row: Making) => void = () => undefined;
  private listeners = new Set<() => void>();
  private state: QueueState = { waiting: [], refused: [], making: [], link: "idle", fragile: false };

  constructor(
    private readonly post: Post = postEntries,
    private heard: Hear = () => undefined,
    private readonly renewToken: () => Promise<unknown> = () => ask(api.GET("/api/v1/session")),
    private readonly postMaking: (row: Making) => Promise<unknown> = sendMaking,
  ) {}

  /** Who is told of what the server answers. */
  onAnswer(heard: Hear): void {
    this.heard = heard;
  }

  /** Who is told when something made here is on the server. */
  onMade(made: (row: Making) => void): void {
    this.made = made;
  }

  readonly snapshot = (): QueueState => this.state;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Whose entries are sent. Another person's stay on the device until that person signs in again. */
  async belongsTo(person: string, name = ""): Promise<void> {
    if (person === this.person && this.state.link !== "signed_out") return;
    this.person = person;
    this.name = name;
    this.failures = 0;
    await this.takeUp();
    // Said before the first reading, not after it.
    if (!(await store.keeps()) && !journal.works()) this.set({ fragile: true });
    await this.refresh("idle");
    this.kick();
  }

  /** Rows that were taken just before the page was closed or loaded anew, and that the database has not got. */
  private async takeUp(): Promise<void> {
    const rows = journal.of(this.person);
    if (rows.length === 0) return;
    try {
      const known = new Set((await store.waitingOf(this.person)).map((row) => row.entry.id));
      await store.device.put(rows.filter((row) => !known.has(row.entry.id)));
      journal.remove(rows);
    } catch {
      this.unkept.push(...rows);
    }
  }

  /** Shown as waiting at once, kept on the device, then sent. Resolves when they are safe here, not when they are there. */
  async take(visit: string, entries: NewEntry[]): Promise<void> {
    const rows = entries.map((entry): Waiting => ({ person: this.person, name: this.name, visit, entry }));
    this.unkept.push(...rows);
    const written = journal.add(rows);
    this.set({ waiting: [...this.state.waiting, ...rows] });
    try {
      await store.device.put(rows.map((row) => ({ ...row })));
      this.unkept = this.unkept.filter((row) => !rows.includes(row));
      this.puts += 1;
      journal.remove(rows);
      this.set({ fragile: false });
    } catch {
      // Written down is kept, too; only where neither can be done does it hang on this page.
      this.set({ fragile: !written });
    }
    await this.refresh();
    this.kick();
  }

  /** Take something made here: kept on the device, then sent before any entry. */
  async make(made: Made): Promise<void> {
    const row: Making = { ...made, person: this.person };
    this.unkeptMakings.push(row);
    try {
      const order = await store.makings.put(row);
      this.unkeptMakings = this.unkeptMakings.filter((other) => other.id !== row.id);
      row.order = order;
      this.set({ fragile: false });
    } catch {
      this.set({ fragile: true });
    }
    await this.refresh();
    this.kick();
  }

  /** Try once more what the server refused. */
  async makeAgain({ refusal: _, ...row }: Making): Promise<void> {
    if (row.order !== undefined) await store.makings.put(row);
    else this.unkeptMakings = this.unkeptMakings.map((other) => (other.id === row.id ? row : other));
    await this.refresh();
    this.kick();
  }

  /** Let go of something made here that the server refused, after its person has read why. */
  async dropMaking(row: Making): Promise<void> {
    this.unkeptMakings = this.unkeptMakings.filter((other) => other.id !== row.id);
    if (row.order !== undefined) await store.makings.remove(row.order);
    await this.refresh();
  }

  /** Let go of a refused entry, after its person has read why. */
  async drop(row: Waiting): Promise<void> {
    this.unkept = this.unkept.filter((other) => other.entry.id !== row.entry.id);
    journal.remove([row]);
    if (row.order !== undefined) await store.remove([row.order]);
    await this.refresh();
  }

  /** Take an entry, and after it those that were set aside. They are kept anew before the old ones are let go of. */
  async takeBefore(visit: string, first: NewEntry, rows: Waiting[]): Promise<void> {
    const orders = rows.flatMap((row) => (row.order === undefined ? [] : [row.order]));
    const ids = new Set(rows.map((row) => row.entry.id));
    this.unkept = this.unkept.filter((row) => !ids.has(row.entry.id));
    await this.take(visit, [first, ...rows.map((row) => row.entry)]);
    await store.remove(orders);
    await this.refresh();
  }

  /** Try again now. */
  kick(): void {
    clearTimeout(this.timer);
    if (this.running) {
      this.once = true;
      return;
    }
    void this.run();
  }

  private async run(): Promise<void> {
    this.running = true;
    try {
      do {
        this.once = false;
        await this.sendAll();
      } while (this.once);
    } finally {
      this.running = false;
    }
  }

  /** What was made here goes first. False when sending must wait. */
  private async sendMakings(): Promise<boolean> {
    for (const row of this.state.making.filter((each) => !each.refusal)) {
      if (!this.person) return false;
      this.set({ link: this.failures ? "away" : "sending" });
      try {
        await this.postMaking(row);
        this.failures = 0;
        await this.dropMaking(row);
        this.made(row);
      } catch (error) {
        const status = error instanceof Unanswered ? error.status : 0;
        const stale = status === 403 && !(error instanceof Unanswered && error.problem);
        const hopeless = status === FAILED && this.failures + 1 >= TRIES_ALONE;
        if (!hopeless && (!FINAL.has(status) || stale)) {
          await this.stopFor(error, []);
          return false;
        }
        this.failures = 0;
        const refusal = error instanceof Unanswered ? error.problem?.refusals?.[0] : undefined;
        const text = hopeless ? ASIDE_MADE : error instanceof Error ? error.message : "Refused.";
        const sentence = { text, numbers: {} };
        const refused = { ...row, refusal: refusal ?? { path: "", sentence } };
        if (row.order !== undefined) await store.makings.put(refused);
        else this.unkeptMakings = this.unkeptMakings.map((other) => (other.id === row.id ? refused : other));
        await this.refresh();
      }
    }
    return true;
  }

  private async sendAll(): Promise<void> {
    if (!(await this.sendMakings())) return;
    for (;;) {
      // Entries of a visit that the server does not have wait for it.
      const without = new Set(this.state.making.map((each) => each.id));
      const sendable = this.state.waiting.filter((row) => !without.has(row.visit));
      const batch = nextBatch(sendable, this.alone > 0 ? 1 : BATCH);
      const visit = batch[0]?.visit;
      if (!visit || !this.person) return;
      this.set({ link: this.failures ? "away" : "sending" });
      try {
        const receipt = await this.post(
          visit,
          batch.map((row) => row.entry),
        );
        await this.settle(batch, receipt);
        this.failures = 0;
        this.alone = Math.max(this.alone - 1, 0);
        await this.refresh("idle");
      } catch (error) {
        if (await this.stopFor(error, batch)) return;
      }
    }
  }

  private async settle(batch: Waiting[], receipt: Receipt): Promise<void> {
    // Shown first, then let go of here: else they would be gone for a moment, and the next reading would go to their place.
    await this.heard(receipt);
    const accepted = new Set(receipt.accepted.map(String));
    const refusals = new Map(receipt.refused.map((refused) => [refused.index, refused]));
    const there = this.unkept.filter((row) => accepted.has(row.entry.id));
    this.unkept = this.unkept.filter((row) => !accepted.has(row.entry.id));
    journal.remove(there);
    await store.remove(batch.flatMap((row) => (accepted.has(row.entry.id) && row.order ? [row.order] : [])));
    for (const [index, row] of batch.entries()) {
      const refused = refusals.get(index);
      if (refused) await this.refuse(row, refused.refusal, refused.closed ? "closed" : undefined);
    }
  }

  /** Mark an entry as refused, on the device where that is possible, in this page otherwise. */
  private async refuse(row: Waiting, refusal: Schemas["Refusal"], aside?: Waiting["aside"]): Promise<void> {
    await this.change({ ...row, refusal, ...(aside ? { aside } : {}) });
  }

  private async change(row: Waiting): Promise<void> {
    if (row.order !== undefined) {
      await store.change(row);
      return;
    }
    this.unkept = this.unkept.map((other) => (other.entry.id === row.entry.id ? row : other));
  }

  /** Send entries that were set aside once more, in their order. */
  async again(rows: Waiting[]): Promise<void> {
    for (const { refusal: _, aside: __, ...row } of rows) await this.change(row);
    await this.refresh();
    this.kick();
  }

  /** True when sending must wait; false when the batch was dealt with and the next may go. */
  private async stopFor(error: unknown, batch: Waiting[]): Promise<boolean> {
    const status = error instanceof Unanswered ? error.status : 0;
    if (status === 401) {
      await this.refresh("signed_out");
      return true;
    }
    const stale = status === 403 && !(error instanceof Unanswered && error.problem);
    if (stale) await this.renewToken().catch(() => undefined);
    if (FINAL.has(status) && !stale) {
      const sentence = { text: error instanceof Error ? error.message : "Refused.", numbers: {} };
      for (const row of batch) await this.refuse(row, { path: "", sentence });
      await this.refresh("idle");
      return false;
    }
    if (status === FAILED && batch.length > 1) {
      this.alone = batch.length;
      await this.refresh();
      return false;
    }
    const [only] = batch;
    if (status === FAILED && only && this.failures + 1 >= TRIES_ALONE) {
      await this.refuse(only, { path: "", sentence: { text: ASIDE, numbers: {} } }, "failed");
      this.failures = 0;
      await this.refresh("idle");
      return false;
    }
    const pause = PAUSES_MS[Math.min(this.failures, PAUSES_MS.length - 1)] ?? 15_000;
    this.failures += 1;
    await this.refresh("away");
    this.timer = setTimeout(() => this.kick(), pause);
    return true;
  }

  private async refresh(link?: Link): Promise<void> {
    const makings = this.person ? await store.makings.of(this.person).catch((): Making[] => []) : [];
    let kept: Waiting[];
    let puts: number;
    do {
      // A row kept while this was read is in neither: read again, or it would be gone for a moment.
      puts = this.puts;
      kept = this.person ? await store.waitingOf(this.person).catch((): Waiting[] => []) : [];
    } while (puts !== this.puts);
    const known = new Set(kept.map((row) => row.entry.id));
    const rows = [
      ...kept,
      ...this.unkept.filter((row) => row.person === this.person && !known.has(row.entry.id)),
    ];
    this.set({
      waiting: rows.filter((row) => !row.refusal),
      refused: rows.filter((row) => row.refusal),
      making: [
        ...makings,
        ...this.unkeptMakings.filter(
          (row) => row.person === this.person && !makings.some((other) => other.id === row.id),
        ),
      ],
      ...(link ? { link } : {}),
    });
  }

  private set(part: Partial<QueueState>): void {
    this.state = { ...this.state, ...part };
    for (const listener of this.listeners) listener();
  }
}

const ASIDE =
  "The server fails on this entry. It is set aside on this device, and the others go on. Tell a lead, and try again later.";

const ASIDE_MADE =
  "The server fails on this. It is set aside on this device with everything that belongs to it. Tell a lead, and try again later.";

/** The longest run from the front that belongs to one visit. */
function nextBatch(waiting: Waiting[], most: number): Waiting[] {
  const visit = waiting[0]?.visit;
  const end = waiting.findIndex((row) => row.visit !== visit);
  return waiting.slice(0, Math.min(end < 0 ? waiting.length : end, most));
}
