import { X } from "lucide-react";
import { type ReactNode, useEffect, useRef } from "react";

/** Something that opens over the page and closes with Esc. Never used for reading: the air path stays in sight there. */
export function Panel({
  title,
  onClose,
  children,
  drawer = false,
}: {
  title: string;
  onClose: () => void;
  children: ReactNode;
  drawer?: boolean;
}) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    dialog.current?.showModal();
    dialog.current?.querySelector<HTMLElement>("[data-focus]")?.focus();
  }, []);
  const place = drawer ? "mt-auto mb-0 w-full max-w-full rounded-b-none" : "m-auto w-[34rem] max-w-[94vw]";
  return (
    <dialog
      ref={dialog}
      aria-label={title}
      className={`panel ${place} max-h-[85vh] overflow-y-auto p-0 text-base-content backdrop:bg-black/40`}
      onClose={onClose}
      onClick={(event) => event.target === dialog.current && dialog.current?.close()}
      onKeyDown={(event) => event.key === "Escape" && dialog.current?.close()}
    >
      <div className="flex items-center justify-between border-base-300 border-b pl-4">
        <h2 className="font-semibold text-lg">{title}</h2>
        <button
          type="button"
          className="btn btn-ghost touch"
          aria-label="Close"
          onClick={() => dialog.current?.close()}
        >
          <X size={20} aria-hidden="true" />
        </button>
      </div>
      <div className="p-4">{children}</div>
    </dialog>
  );
}
