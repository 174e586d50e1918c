import type { ReactNode } from "react";

/** A table that may be wider than a phone: it scrolls within itself, by finger and by keyboard. */
export function WideTable({
  label,
  className = "",
  children,
}: {
  label: string;
  className?: string;
  children: ReactNode;
}) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a narrow screen scrolls it by keyboard too
    <section className={`overflow-x-auto ${className}`} aria-label={label} tabIndex={0}>
      {children}
    </section>
  );
}
