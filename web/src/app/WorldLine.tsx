import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { goToWorld, worldQuery } from "@/app/world";

const LOOK = "bg-hollow text-small text-ink-soft";

/** A quiet line on every screen of the demo, with the way home; absent in one's own world. */
export function WorldLine() {
  const { data } = useQuery(worldQuery);
  if (data?.world !== "demo") return null;
  return (
    <p className={`no-print flex flex-wrap items-baseline gap-x-2 border-b px-4 py-1 md:px-6 ${LOOK}`}>
      <span>You are in the club’s world, the demo: nothing here is yours.</span>
      <GoTo world="own" words="Go to my own" path="/" />
    </p>
  );
}

/** A way to a world, which may take a moment to open. */
export function GoTo({ world, words, path }: { world: "own" | "demo"; words: string; path: string }) {
  const [going, setGoing] = useState(false);
  return (
    <button
      type="button"
      className="action min-h-6"
      disabled={going}
      onClick={async () => {
        setGoing(true);
        await goToWorld(world, path);
        setGoing(false);
      }}
    >
      {going ? "Opening…" : words}
    </button>
  );
}
