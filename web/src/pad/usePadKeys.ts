import { useEffect } from "react";
import { TAKES_KEYS } from "../shell/useKeys";
import { type PadKey, padKey } from "./typed";

/** Digits, Enter and Escape from a keyboard, unless somebody types in a field. */
export function usePadKeys(act: { key: (key: PadKey) => void; take: () => void; close: () => void }): void {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const target = event.target as HTMLElement;
      if (target.closest(TAKES_KEYS)) return;
      const pressed = padKey(event.key);
      if (pressed) act.key(pressed);
      else if (event.key === "Enter" && !target.closest("button, a")) act.take();
      else if (event.key === "Escape") act.close();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", down, { capture: true });
    return () => window.removeEventListener("keydown", down, { capture: true });
  });
}
