import { type ReactNode, useState } from "react";
import { usePrinting } from "@/parts/usePrinting";

type Props = {
  name: ReactNode;
  className?: string;
  /** What belongs on paper too. */
  printed?: boolean;
  children: ReactNode;
};

/** What is opened by its name; until then nothing of it is drawn. */
export function Folded({ name, className = "", printed = false, children }: Props) {
  const [open, setOpen] = useState(false);
  const printing = usePrinting() && printed;
  return (
    <details
      className={className}
      open={open || printing}
      onToggle={(e) => !printing && setOpen(e.currentTarget.open)}
    >
      <summary>{name}</summary>
      {(open || printing) && children}
    </details>
  );
}
