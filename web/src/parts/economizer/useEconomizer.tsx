/** The economizer of the open visit, and the connected controller. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { Unanswered } from "../../api/client";
import {
  controllerKey,
  controllerQuery,
  economizerKey,
  economizerQuery,
  temporaryQuery,
  visitKey,
} from "../../api/queries";
import { Loading } from "../../shell/Loading";
import { useUnits } from "../../units/UnitSystem";
import { say } from "../../units/units";
import { useVisit } from "../../logbook/context";

export type Page = Schemas["EconomizerPage"];
export type Controller = Schemas["ControllerOut"];
export type Test = Page["tests"][number];
export type SeenTest = NonNullable<Test["as_found"]>;
export type Setting = Page["settings"][number];

/** Shows its children once the economizer is worked out; what still waits on the device is said. */
export function WithEconomizer({ children }: { children: (page: Page) => ReactNode }) {
  const { page, entries } = useVisit();
  const query = useQuery(economizerQuery(String(page.id)));
  const waiting = entries.filter((entry) => entry.waiting && KINDS.has(entry.kind)).length;
  return (
    <Loading query={query} what="the economizer">
      {(answer) => (
        <>
          {waiting > 0 && (
            <p role="status" className="panel mb-3 px-3 py-2">
              {waiting === 1 ? "One entry waits" : `${waiting} entries wait`} on this device: what follows
              from it is worked out when it is sent.
            </p>
          )}
          {children(answer.page)}
        </>
      )}
    </Loading>
  );
}

const KINDS = new Set([
  "plan_setting",
  "outdoor_need",
  "damper_read",
  "test_seen",
  "point_list",
  "point_read",
  "configuration",
  "alarm",
  "alarm_check",
  "alarm_closed",
  "intake",
]);

export const useController = () => {
  const { page } = useVisit();
  return useQuery(controllerQuery(String(page.id)));
};

/** After the server wrote entries by itself: everything of this visit is asked again. */
export function useAskAgain(): () => void {
  const { page } = useVisit();
  const known = useQueryClient();
  const id = String(page.id);
  return () => {
    void known.invalidateQueries({ queryKey: visitKey(id) });
    void known.invalidateQueries({ queryKey: economizerKey(id) });
    void known.invalidateQueries({ queryKey: controllerKey(id) });
    void known.invalidateQueries({ queryKey: temporaryQuery.queryKey });
  };
}

/** Something asked of the controller; its answer is the controller as it is then. */
export function useAsked<Given>(send: (given: Given) => Promise<Controller>) {
  const { page } = useVisit();
  const known = useQueryClient();
  const again = useAskAgain();
  return useMutation({
    mutationFn: send,
    onSuccess: (answer) => known.setQueryData(controllerKey(String(page.id)), answer),
    onSettled: again,
  });
}

/** Why something was not done, in the user's units. */
export function Trouble({ error }: { error: unknown }) {
  const { system } = useUnits();
  if (!error) return null;
  const refusal = error instanceof Unanswered ? error.problem?.refusals?.[0] : undefined;
  return (
    <p role="alert" className="panel border-error p-3">
      {refusal
        ? say(refusal.sentence, system)
        : error instanceof Error
          ? error.message
          : "This did not work."}
    </p>
  );
}
