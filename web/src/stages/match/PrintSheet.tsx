import type { Joint, Match, Model } from "@/api/types";
import { type Preferences, usePreferences } from "@/format/preferences";
import { loadingText, worded } from "@/format/quantity";
import { voltsSet, wholeMinutes } from "@/format/settings";

/** The build sheet and the charger settings on one page; only on paper. */
export function PrintSheet({ model, match }: { model: Model; match: Match }) {
  const p = usePreferences();
  const { pack, drive, charge } = match;
  const settings = charge?.settings;
  return (
    <section
      aria-label="Build sheet and charger settings"
      className="print-only px-2 pt-1 text-[8.5pt] leading-[11pt]"
    >
      <h2 className="text-[13pt] leading-[16pt] font-bold">
        {model.name} with {pack.name}
      </h2>
      <p>
        {pack.chemistry_name} {pack.series}S{pack.parallel > 1 ? `${pack.parallel}P` : ""},{" "}
        {worded("charge", pack.capacity_ah * 1000, p)}, {worded("mass", pack.mass_g, p)},{" "}
        {worded("voltage", pack.full_v, p)} when full; plug {pack.plug_name}, balance plug {pack.balance_name}
        {pack.balance_pins !== null && ` with ${pack.balance_pins} pins`}.
      </p>
      <div className="mt-1.5 grid grid-cols-2 gap-x-6">
        <div>
          <h3 className="text-[10pt] font-bold">Build sheet</h3>
          <p>{drive.fit.sentence}</p>
          <Chain joints={drive.joints} p={p} />
          {drive.position_mm !== null && (
            <p>Pack’s middle at {worded("length", drive.position_mm, p)}, to balance.</p>
          )}
          {drive.fixes.map((f) => (
            <p key={f.kind}>• {f.sentence}</p>
          ))}
          {[...drive.cautions.map((c) => c.sentence), ...drive.polarity].map((words) => (
            <p key={words}>! {words}</p>
          ))}
        </div>
        <div>
          <h3 className="text-[10pt] font-bold">
            Charger settings{charge ? `, ${charge.charger_name}` : ""}
          </h3>
          {settings ? (
            <>
              <p className="text-[10pt] leading-[13pt]">
                <b>
                  {settings.chemistry}, {settings.program}, {settings.series}S,{" "}
                  {worded("amps_set", settings.current_a, p)}
                  {settings.end_v === null ? "" : `, to ${voltsSet(settings.end_v)} V`}
                </b>
              </p>
              <p>
                Safety timer {settings.timer_min} min; capacity cut-off {settings.cutoff_mah} mAh; about{" "}
                {wholeMinutes(settings.minutes)} min ({wholeMinutes(settings.minutes_low)} to{" "}
                {wholeMinutes(settings.minutes_high)}). Limit: {settings.binding}.
              </p>
              {charge?.cautions.map((c) => (
                <p key={c.id}>! {c.sentence}</p>
              ))}
            </>
          ) : (
            <p>{charge?.refusals.map((r) => r.sentence).join(" ") ?? "No charger yet."}</p>
          )}
          <p className="mt-1">Cold Stack advises. Makers’ data sheets and local codes come first.</p>
        </div>
      </div>
    </section>
  );
}

function Chain({ joints, p }: { joints: Joint[]; p: Preferences }) {
  return (
    <table className="my-1 w-full text-left">
      <thead>
        <tr className="border-b">
          <th>Link</th>
          <th>Carries</th>
          <th>Takes</th>
          <th>Loading</th>
          <th>Heat</th>
        </tr>
      </thead>
      <tbody>
        {joints.map((j) => {
          const kind =
            j.leading.unit === "A" ? "current" : j.leading.unit === "K" ? "temperature_step" : "temperature";
          return (
            <tr key={j.link} className={j.weakest ? "font-bold" : ""}>
              <td>
                {j.name}
                {j.weakest ? " (weakest)" : ""}
              </td>
              <td>{j.leading.value === null ? "—" : worded(kind, j.leading.value, p)}</td>
              <td>{j.leading.limit === null ? "not known" : worded(kind, j.leading.limit, p)}</td>
              <td>{j.loading === null ? "—" : loadingText(j.loading)}</td>
              <td>{j.heat_w === null ? "—" : worded("heat", j.heat_w, p)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
