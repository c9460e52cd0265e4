import type { PracticeSheet } from "@/api/types";
import { bare } from "@/format/quantity";
import { levelName } from "@/practice/address";

type Props = { number: number; task: PracticeSheet["tasks"][number] };

/** One task on paper: what lies before one in a frame, lines to write on, boxes to tick. */
export function PaperTask({ number, task: { name, task } }: Props) {
  return (
    <li className="mb-5 break-inside-avoid print:mb-3">
      <p className="font-semibold">
        {number}. {name}
        <span className="ml-2 text-fine font-normal text-ink-faint">{levelName(task.level)}</span>
      </p>
      <p>{task.words}</p>
      <div className="mt-1 flex flex-wrap gap-2 print:gap-1.5">
        {task.things.map((thing) => (
          <div key={thing.name} className="border border-ink px-2 py-1 text-small leading-4 print:text-fine">
            <span className="text-fine text-ink-faint">{thing.name}</span>
            {thing.lines.map((line) => (
              <p key={line}>{line}</p>
            ))}
            {(thing.cell_v ?? []).length > 0 && (
              <p className="number">{(thing.cell_v ?? []).map((v) => bare("cell_reading", v)).join("  ")}</p>
            )}
          </div>
        ))}
      </div>
      {task.questions.map(({ id, words, asks }) => (
        <div key={id} className="mt-1.5 print:mt-1">
          {asks.shape === "number" ? (
            <p>
              {words} <span className="whitespace-nowrap">___________ {asks.unit}</span>
            </p>
          ) : (
            <>
              <p>{asks.shape === "order" ? `${words} Number them.` : words}</p>
              <p className="text-small">
                {asks.options.map((o) => (
                  <span key={o.id} className="mr-3 inline-block">
                    <span
                      aria-hidden="true"
                      className="mr-1 inline-block size-3 border border-ink align-middle"
                    />
                    {o.name}
                  </span>
                ))}
              </p>
            </>
          )}
        </div>
      ))}
    </li>
  );
}
