import { Tooltip } from "radix-ui";
import type { ReactNode } from "react";
import { WORDS } from "@/app/words";

/** A word of the trade; hover or focus says what it means. */
export function Term({ word, children }: { word: string; children?: ReactNode }) {
  return (
    <Tooltip.Provider delayDuration={200}>
      <Tooltip.Root>
        <Tooltip.Trigger asChild>
          <button type="button" className="cursor-help border-b border-dotted border-rule-strong text-left">
            {children ?? word}
          </button>
        </Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content
            sideOffset={4}
            collisionPadding={8}
            className="z-50 max-w-64 border border-rule-strong bg-sheet px-3 py-2 text-small text-ink"
          >
            {WORDS[word]}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  );
}
