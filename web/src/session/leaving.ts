/** Signing out without signal: this device forgets at once; the server is told as soon as it answers. */
import { api, ask, Unanswered } from "../api/client";
import { queries } from "../api/queries";
import { persister } from "../offline/keeping";

const LEAVING = "fentro.leaving";

type Where = "here" | "everywhere";

const tell = (where: Where): Promise<unknown> =>
  ask(where === "everywhere" ? api.DELETE("/api/v1/session/everywhere") : api.DELETE("/api/v1/session"));

/** Sign out. What waits stays on the device, for its person. */
export async function leave(where: Where): Promise<void> {
  try {
    await tell(where);
  } catch (error) {
    if (!(error instanceof Unanswered) || error.status !== 0) throw error;
    localStorage.setItem(LEAVING, where);
  }
  queries.clear();
  await persister.removeClient();
  if ("caches" in globalThis) await caches.delete("photos").catch(() => false);
}

/** True while somebody has signed out here and the server has not heard of it. */
export async function leaving(): Promise<boolean> {
  const where = localStorage.getItem(LEAVING) as Where | null;
  if (!where) return false;
  try {
    await tell(where);
  } catch (error) {
    if (error instanceof Unanswered && error.status === 0) return true;
  }
  stay();
  queries.clear();
  return true;
}

/** Somebody signs in: whoever signed out before has gone by now. */
export const stay = (): void => localStorage.removeItem(LEAVING);

/** An address within this installation: nobody is led elsewhere by a link. */
export const isWithin = (address: string): boolean => /^\/(?![/\\])/.test(address);
