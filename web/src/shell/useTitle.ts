import { useEffect } from "react";

/** The page's title while it is open: the nearest thing first. What is not known yet is left out. */
export function useTitle(...parts: (string | undefined)[]): void {
  const title = parts.filter(Boolean).join(", ");
  useEffect(() => {
    document.title = title || "Fentro";
    return () => {
      document.title = "Fentro";
    };
  }, [title]);
}
