/** Said before anything is read: what is read here lives on this page alone. */
export function CantKeep() {
  return (
    <p role="alert" className="rounded border border-error p-3">
      This device can't keep readings: it has no room left, or storage is forbidden. Make room, or read with
      signal, and keep this page open until everything is sent.
    </p>
  );
}
