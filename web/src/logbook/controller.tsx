/** The controller connected to the open visit: what it is now, and what is asked of it. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { Unanswered } from "../api/client";
import { controllerKey, controllerQuery, economizerKey, temporaryQuery, visitKey } from "../api/queries";
import { useUnits } from "../units/UnitSystem";
import { say } from "../units/units";
import { useVisit } from "./context";

export type Controller = Schemas["ControllerOut"];

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

/** Something asked of the controller; its answer is the controller as it is then. Asked one after another, as pressed. */
export function useAsked<Given>(send: (given: Given) => Promise<Controller>) {
  const { page } = useVisit();
  const known = useQueryClient();
  const again = useAskAgain();
  return useMutation({
    scope: { id: `controller ${page.id}` },
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
