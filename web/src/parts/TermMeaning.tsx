import { Popover } from "radix-ui";
import type { RefObject } from "react";
import { WORDS } from "@/app/words";
import { inWords } from "@/format/sentence";

type Props = {
  id: string;
  at: RefObject<HTMLButtonElement | null>;
  word: string;
  onStay: () => void;
  onClose: () => void;
};

/** What a word of the trade means, beside it; it takes no focus and goes when the word is left. */
export default function TermMeaning({ id, at, word, onStay, onClose }: Props) {
  return (
    <Popover.Root open onOpenChange={(open) => open || onClose()}>
      <Popover.Anchor virtualRef={at as RefObject<HTMLButtonElement>} />
      <Popover.Portal>
        <Popover.Content
          id={id}
          role="tooltip"
          side="top"
          sideOffset={4}
          collisionPadding={8}
          onOpenAutoFocus={(event) => event.preventDefault()}
          onCloseAutoFocus={(event) => event.preventDefault()}
          onPointerEnter={onStay}
          onPointerLeave={onClose}
          className="z-50 max-w-64 border border-rule-strong bg-sheet px-3 py-2 text-small
            text-ink"
        >
          {inWords(WORDS[word] ?? "")}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
