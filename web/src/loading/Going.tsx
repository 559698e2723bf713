import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import { spanWords } from "../readings/now";
import type { LoadReading } from "./load";

/** How far the load has come: a bar with its target and its stop point, and the numbers that a hose-man needs. */
export function Going({ reading }: { reading: LoadReading }) {
  const units = useUnits();
  const { targets, progress } = reading;
  if (!targets) return null;
  const volume = (litres: number) => places(units.toShown("volume", litres), 0);
  const unit = units.unit("volume").name;
  const mass = (kg: number) => `${places(units.toShown("mass", kg), 0)} ${units.unit("mass").name}`;
  const width = (litres: number) => Math.min((litres / reading.capacity_l) * 100, 100);
  const state = progress?.state ?? "load";
  return (
    <section aria-label="How far it has come" className={`going ${state}`}>
      <svg className="going-bar" viewBox="0 0 100 12" preserveAspectRatio="none" aria-hidden="true">
        <rect x="0" y="1" width="100" height="10" className="going-vessel" />
        {progress && (
          <rect x="0" y="1" width={width(progress.volume_l)} height="10" className="going-liquid" />
        )}
        <line
          x1={width(targets.target_l)}
          x2={width(targets.target_l)}
          y1="0"
          y2="12"
          className="going-target"
        />
        {progress && (
          <line
            x1={width(progress.stop_l)}
            x2={width(progress.stop_l)}
            y1="0"
            y2="12"
            className="going-stop"
          />
        )}
      </svg>
      <div className="going-facts">
        <div>
          <span className="readout-label">In it</span>
          <span className="going-value mono">
            {progress ? volume(progress.volume_l) : "–"} <small>{unit}</small>
          </span>
          <span className="readout-note">
            {progress
              ? `${places(progress.volume_pct, 1)} %, ${mass(progress.mass_kg)}`
              : "nothing says so yet"}
          </span>
        </div>
        <div>
          <span className="readout-label">Stop at</span>
          <span className="going-value mono">
            {volume(progress?.stop_l ?? targets.target_l)} <small>{unit}</small>
          </span>
          <span className="readout-note">
            {places(progress?.stop_pct ?? targets.target_pct, 1)} %
            {progress && progress.overshoot_l > 0.5 && `, ${volume(progress.overshoot_l)} ${unit} still come`}
          </span>
        </div>
        <div>
          <span className="readout-label">Target</span>
          <span className="going-value mono">
            {volume(targets.target_l)} <small>{unit}</small>
          </span>
          <span className="readout-note">
            {places(targets.target_pct, 1)} %, {mass(targets.mass_kg)} · by{" "}
            {targets.rule === "weight" ? "weight" : "the filling limit"}
          </span>
        </div>
        <div>
          <span className="readout-label">{state === "over" ? "Too much by" : "To go"}</span>
          <span className="going-value mono">
            {progress ? volume(Math.abs(progress.left_l)) : "–"} <small>{unit}</small>
          </span>
          <span className="readout-note">
            {progress?.to_stop_s != null && progress.to_stop_s > 0
              ? `stop in ${spanWords(progress.to_stop_s)} at this rate`
              : ""}
            {reading.loaded_l !== null && ` loaded ${volume(reading.loaded_l)} ${unit}`}
          </span>
        </div>
      </div>
    </section>
  );
}
