import { useEffect } from "react";

/** Where keys have their own meaning. */
export const TAKES_KEYS = "input:not([type=radio], [type=checkbox]), textarea, [role=dialog], [role=listbox]";

/** Call a function on a key, unless somebody is typing. */
export function useKeys(actions: Record<string, (() => void) | undefined>): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      const typing = event.target instanceof HTMLElement && event.target.closest(TAKES_KEYS);
      if (typing) return;
      const action = actions[event.key];
      if (action) {
        event.preventDefault();
        action();
      }
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
}
