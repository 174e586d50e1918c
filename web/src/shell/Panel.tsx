import { X } from "lucide-react";
import type { ReactNode } from "react";
import { Button, Dialog, Heading, Modal, ModalOverlay } from "react-aria-components";

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
  const place = drawer ? "mt-auto w-full rounded-b-none" : "m-auto w-[34rem] max-w-[94vw]";
  return (
    <ModalOverlay
      isOpen
      isDismissable
      onOpenChange={(open) => !open && onClose()}
      className="fixed inset-0 z-40 flex bg-black/40"
    >
      <Modal className={`panel ${place} max-h-[85vh] overflow-y-auto text-base-content`}>
        <Dialog className="outline-none">
          <div className="flex items-center justify-between border-base-300 border-b pl-4">
            <Heading slot="title" className="font-semibold text-lg">
              {title}
            </Heading>
            <Button className="btn btn-ghost touch" aria-label="Close" onPress={onClose}>
              <X size={20} aria-hidden="true" />
            </Button>
          </div>
          <div className="p-4">{children}</div>
        </Dialog>
      </Modal>
    </ModalOverlay>
  );
}
