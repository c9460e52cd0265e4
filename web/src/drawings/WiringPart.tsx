import type { Wiring, WiringStep } from "@/api/types";
import { NumberedStep } from "@/drawings/marks";
import { SmallWiring, WiringPicture } from "@/drawings/WiringPicture";

/** A wiring with its words, its steps and what must not be. */
export function WiringWhole({ wiring, heading }: { wiring: Wiring; heading: string }) {
  return (
    <section aria-label={heading}>
      <h3 className="heading">{heading}</h3>
      <div className="mt-2">
        <WiringPicture
          parts={wiring.parts}
          joined={wiring.joined}
          loads={wiring.loads}
          toGet={wiring.to_get}
          label={wiring.sentence}
        />
      </div>
      <p className="mt-1.5 max-w-prose text-small leading-4.5 text-ink-soft">{wiring.sentence}</p>
      <Strip wiring={wiring} steps={wiring.plug_in} />
      <details className="mt-3">
        <summary className="cursor-pointer text-small font-semibold">And out again</summary>
        <Strip wiring={wiring} steps={wiring.pull_out} />
      </details>
      {wiring.forbidden.length > 0 && <MustNot wiring={wiring} />}
    </section>
  );
}

/** The order, a picture a step that plugs something in or pulls it. */
function Strip({ wiring, steps }: { wiring: Wiring; steps: WiringStep[] }) {
  return (
    <ol className="mt-3 grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-6 gap-y-3">
      {steps.map((step, i) => (
        <NumberedStep key={step.id} number={i + 1} sentence={step.sentence} why={step.why ?? ""}>
          <StepPicture wiring={wiring} step={step} />
        </NumberedStep>
      ))}
    </ol>
  );
}

/** What is plugged after a step, and what is live then; nothing for a step that moves no plug. */
export function StepPicture({ wiring, step }: { wiring: Wiring; step: WiringStep | undefined }) {
  if (!step || step.new.length + step.pulled.length === 0) return null;
  const live = liveWords(wiring, step.live);
  return (
    <div className="mt-1.5">
      <SmallWiring parts={wiring.parts} joined={step.joined} live={step.live} label={live} />
      <p className="mt-0.5 text-fine text-ink-faint">{live}</p>
    </div>
  );
}

/** What hangs loose with volts on it, in words. */
export function liveWords(wiring: Pick<Wiring, "parts">, live: readonly string[]): string {
  const names = wiring.parts.flatMap((part) =>
    part.plugs
      .filter((plug) => live.includes(plug.id))
      .map((plug) => `${part.name}, ${plug.what === "balance" ? "balance plug" : plug.name}`),
  );
  return names.length === 0 ? "Nothing hangs loose and live." : `Live and loose: ${names.join("; ")}.`;
}

export function MustNot({ wiring }: { wiring: Wiring }) {
  return (
    <div className="mt-4">
      <h4 className="heading">Never so</h4>
      <ul className="mt-1 grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-6 gap-y-3">
        {wiring.forbidden.map((f) => (
          <li key={f.id} className="border-t pt-2">
            <p className="text-small leading-4.5">
              <b className="font-semibold">{f.title}</b> is {f.does}. {f.sentence}
            </p>
            <div className="mt-1.5">
              <SmallWiring
                parts={f.parts}
                joined={f.joined}
                live={f.live}
                struck
                label={`Struck out: ${f.title}`}
              />
            </div>
          </li>
        ))}
      </ul>
    </div>
  );
}
