import { Dialog } from "radix-ui";
import { type ReactNode, useRef, useState } from "react";

type Props = {
  open: boolean;
  onClose: () => void;
  title: string;
  hideTitle?: boolean;
  wide?: boolean;
  /** What would be lost by closing, in words ("the ticked steps"): it asks first. */
  loses?: string | undefined;
  children: ReactNode;
};

/** A modal sheet over the page; Escape or a press beside it closes it. */
export function Sheet({ open, onClose, title, hideTitle = false, wide = false, loses, children }: Props) {
  const [asking, setAsking] = useState(false);
  const close = () => {
    setAsking(false);
    onClose();
  };
  // sheets are opened by addresses and keys too, so what had the focus is remembered here
  const from = useRef<HTMLElement | null>(null);
  const was = useRef(false);
  if (open && !was.current && document.activeElement instanceof HTMLElement)
    from.current = document.activeElement;
  was.current = open;
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && (loses && !asking ? setAsking(true) : close())}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[#0f1d25]/45" />
        <Dialog.Content
          aria-describedby={undefined}
          onCloseAutoFocus={(event) => {
            if (!from.current?.isConnected || from.current === document.body) return;
            event.preventDefault();
            from.current.focus();
          }}
          className={`fixed left-1/2 top-[8vh] z-50 max-h-[86vh] w-[94vw] -translate-x-1/2 overflow-y-auto
            border border-rule-strong bg-sheet ${wide ? "max-w-3xl" : "max-w-xl"}`}
        >
          <Dialog.Title className={hideTitle ? "sr-only" : "border-b px-5 py-3 text-lead font-semibold"}>
            {title}
          </Dialog.Title>
          {asking && loses && (
            <div role="alert" className="flex flex-wrap items-center gap-3 border-b bg-hollow px-5 py-2">
              <span className="font-semibold">Closing loses {loses}.</span>
              <button type="button" className="primary" onClick={() => setAsking(false)}>
                Stay
              </button>
              <button type="button" className="control" onClick={close}>
                Close all the same
              </button>
            </div>
          )}
          {children}
          {!hideTitle && (
            <Dialog.Close className="control absolute right-3 top-2.5 text-small" aria-label="Close">
              Close
            </Dialog.Close>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
