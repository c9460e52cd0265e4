import type { Soldering } from "@/api/types";
import { NumberedStep } from "@/drawings/marks";
import { SolderPicture } from "@/drawings/SolderPicture";

/** A new plug, one wire at a time; open where nothing else makes the plugs meet. */
export function SolderPart({ soldering, open }: { soldering: Soldering; open: boolean }) {
  return (
    <details open={open} className="border-t pt-2">
      <summary className="cursor-pointer text-small font-semibold">{soldering.name}</summary>
      <p className="sr-only">{soldering.sentence}</p>
      <ol className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(16rem,1fr))] gap-x-6 gap-y-3">
        {soldering.steps.map((step, i) => (
          <NumberedStep key={step.id} number={i + 1} sentence={step.sentence} why={step.why}>
            <div className="mt-1.5">
              <SolderPicture step={step} soldering={soldering} />
            </div>
          </NumberedStep>
        ))}
        <li className="border-t pt-2">
          <p className="text-small leading-4.5">
            <b className="font-semibold">Never: {soldering.never.sentence.toLowerCase()}</b> is{" "}
            {soldering.does}. {soldering.never.why}
          </p>
          <div className="mt-1.5">
            <SolderPicture step={soldering.never} soldering={soldering} struck />
          </div>
        </li>
      </ol>
    </details>
  );
}
