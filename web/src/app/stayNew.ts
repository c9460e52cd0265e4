import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { along } from "@/app/along";

const AGAIN_MS = 10 * 60_000;

/** As long as there is a line, what was taken along stays new by itself. */
export function useAlongStaysNew(): void {
  const queries = useQueryClient();
  useEffect(() => {
    const again = async () => {
      const models = along.get()?.models ?? [];
      if (models.length === 0 || document.visibilityState !== "visible") return;
      const { takeAlong } = await import("@/app/takeAlong");
      await takeAlong(queries, models);
    };
    const timer = window.setInterval(() => void again(), AGAIN_MS);
    void again();
    return () => window.clearInterval(timer);
  }, [queries]);
}
