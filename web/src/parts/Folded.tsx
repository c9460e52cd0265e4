import { type ReactNode, useState } from "react";

type Props = { name: ReactNode; className?: string; children: ReactNode };

/** What is opened by its name; until then nothing of it is drawn. */
export function Folded({ name, className = "", children }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <details className={className} open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>{name}</summary>
      {open && children}
    </details>
  );
}
