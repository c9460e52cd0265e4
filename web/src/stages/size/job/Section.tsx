import type { ReactNode } from "react";

export function Section({
  title,
  last = false,
  children,
}: {
  title: string;
  last?: boolean;
  children: ReactNode;
}) {
  return (
    <section className={`mb-4 pb-4 ${last ? "" : "border-b"}`}>
      <h2 className="heading mb-2">{title}</h2>
      {children}
    </section>
  );
}
