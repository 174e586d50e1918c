/** Fentro's own sign: a stream that another joins. */
export function Mark({ size = 28 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true">
      <rect width="32" height="32" rx="5" className="fill-primary" />
      <path d="M3 12c7 0 8 8 14 8s6-6 12-6" fill="none" className="stroke-primary-content" strokeWidth="5" />
      <path d="M7 5c4 0 6 5 8 9" fill="none" stroke="#e0a57f" strokeWidth="3" />
    </svg>
  );
}
