import { useLayoutEffect, useRef } from "react";

/** What becomes of the keys that come before there is a field for them. */
interface Early {
  onLetters: (change: (before: string) => string) => void;
  onEnter: () => void;
}

/**
 * Keys pressed while a field is still on its way are kept for it, in their order.
 *
 * @param waiting - whether the field has not taken the keys yet
 */
export function useEarlyKeys(waiting: boolean, early: Early): void {
  const now = useRef(early);
  now.current = early;
  useLayoutEffect(() => {
    if (!waiting) return;
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const { onLetters, onEnter } = now.current;
      if (event.key === "Backspace") onLetters((before) => before.slice(0, -1));
      else if (event.key === "Enter") onEnter();
      else if (event.key.length === 1) onLetters((before) => before + event.key);
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener("keydown", press, true);
    return () => window.removeEventListener("keydown", press, true);
  }, [waiting]);
}
