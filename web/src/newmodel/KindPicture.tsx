const wheel = (x: number, y: number) => `M${x} ${y}m-4 0a4 4 0 1 0 8 0a4 4 0 1 0-8 0`;

/** Small drawings of our own, one a kind of model, in a box of 40 by 24. */
const DRAWN: Record<string, string> = {
  plane: "M4 13h26l5-2v4l-5-1M14 13l-3-8h4l7 8M14 13l-3 7h4l7-7M31 11l1-5h3l-1 6",
  sailplane: "M8 13h24l4-1v2l-4 0M17 13L15 2h3l4 11M17 13l-2 10h3l4-10M33 12l1-4h2l-1 4",
  jet: "M3 14l9-4h18l6 3-6 2H12zM15 10l6-6h5l-2 6M13 15l6 5h5l-3-5M31 10l2-5h3l-1 6",
  multirotor: "M10 6l20 12M30 6L10 18M16 9h8v6h-8zM4 6h12M24 6h12M4 18h12M24 18h12",
  helicopter: "M8 12q8-6 14 0l12 1v-4M8 12q2 6 12 6l3-5M15 9V4M3 4h25M12 21h13",
  car: `M4 17l2-6 7-1 5-4h9l5 5 5 1v5M4 17h4M16 17h10M34 17h3${wheel(12, 17)}${wheel(30, 17)}`,
  truck: `M5 17V5h15v9M20 9h8l5 5v3M5 14h28${wheel(12, 18)}${wheel(29, 18)}`,
  tracked: "M7 14h26q4 0 4 4t-4 4H7q-4 0-4-4t4-4zM9 14V8h14l5 6M23 10h11M10 18h.1M20 18h.1M30 18h.1",
  boat: "M4 14h32l-5 7H10zM13 14V8h11l3 6M17 8V4h3v4",
};

export function KindPicture({ kind }: { kind: string }) {
  return (
    <svg width="40" height="24" viewBox="0 0 40 24" aria-hidden="true" className="shrink-0">
      <path
        d={DRAWN[kind] ?? "M8 12h24"}
        fill="none"
        stroke="currentColor"
        strokeWidth="1.4"
        strokeLinejoin="round"
        strokeLinecap="round"
      />
    </svg>
  );
}
