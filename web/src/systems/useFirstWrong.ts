import { useEffect } from "react";

/** Whoever taps below must see what is missing above. */
export function useFirstWrong(wrong: Record<string, string>): void {
  useEffect(() => {
    if (Object.keys(wrong).length === 0) return;
    const main = document.querySelector("main");
    const first = main?.querySelector("[data-wrong], [aria-invalid=true]");
    if (main && first) main.scrollTop += first.getBoundingClientRect().top - main.clientHeight / 2;
  }, [wrong]);
}
