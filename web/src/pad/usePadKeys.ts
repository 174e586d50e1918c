import { useLayoutEffect } from "react";
import { TAKES_KEYS } from "../shell/useKeys";
import { type PadKey, padKey } from "./typed";

/** Digits, Enter and Escape from a keyboard, unless somebody types in a field. */
export function usePadKeys(act: {
  key: (key: PadKey) => void;
  paste?: (text: string) => void;
  take: () => void;
  close: () => void;
}): void {
  // As soon as the page is drawn: a key that follows at once must not meet what stood there before.
  useLayoutEffect(() => {
    const pasted = (event: ClipboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.closest(TAKES_KEYS)) return;
      const text = event.clipboardData?.getData("text") ?? "";
      if (text.trim() === "" || !act.paste) return;
      act.paste(text);
      event.preventDefault();
    };
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
    window.addEventListener("paste", pasted);
    return () => {
      window.removeEventListener("keydown", down, { capture: true });
      window.removeEventListener("paste", pasted);
    };
  });
}
