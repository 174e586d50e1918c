import { useNavigate } from "@tanstack/react-router";
import { GraduationCap } from "lucide-react";
import { api, ask } from "../api/client";
import { useChange } from "../shell/useChange";

/** A made-up system, begun as far as the supply: two minutes show how a visit goes. `inMenu`: one line of a menu. */
export function Practise({ inMenu = false, onBegun }: { inMenu?: boolean; onBegun?: () => void }) {
  const go = useNavigate();
  const begin = useChange(["day"], async () => {
    const { visit } = await ask(api.POST("/api/v1/practice"));
    await go({ to: "/visits/$visitId", params: { visitId: String(visit) }, search: { step: "measure" } });
    onBegun?.();
  });
  return (
    <>
      <button
        type="button"
        className={inMenu ? "btn btn-ghost touch w-full justify-start font-normal" : "btn touch"}
        disabled={begin.isPending}
        onClick={() => begin.mutate(undefined)}
      >
        {inMenu ? (
          "Practise on a made-up unit"
        ) : (
          <>
            <GraduationCap size={20} aria-hidden="true" /> Practise first: two minutes on a made-up unit
          </>
        )}
      </button>
      {begin.error && (
        <p role="alert" className="px-3">
          {begin.error.message}
        </p>
      )}
    </>
  );
}
